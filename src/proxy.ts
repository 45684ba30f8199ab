import { timingSafeEqual } from "node:crypto";
import { type NextRequest, NextResponse } from "next/server";

// Every request comes through here: whom the server talks to, from where it may be written to, and what a page may load.

const LOCAL = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;
const COOKIE = "tavlin-token";

const token = process.env.TAVLIN_TOKEN ?? "";
/** Names the server answers to beside the loopback ones, once a token guards it. */
const hosts = (process.env.TAVLIN_HOSTS ?? "").split(",").filter(Boolean);

const refuse = (status: number, error: string): Response => Response.json({ error }, { status });

function same(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(a), Buffer.from(b)];
  return x.length === y.length && timingSafeEqual(x, y);
}

function allowedHost(host: string): boolean {
  if (LOCAL.test(host)) return true;
  return token !== "" && hosts.includes(host.replace(/:\d+$/, ""));
}

/** The token may come with every request as a bearer, or be given once as ?token=… and stay as a cookie. */
function isLetIn(request: NextRequest): boolean {
  if (!token) return true;
  const bearer = /^Bearer (.+)$/.exec(request.headers.get("authorization") ?? "")?.[1];
  return [bearer, request.cookies.get(COOKIE)?.value].some((given) => given !== undefined && same(given, token));
}

const readsOnly = (method: string): boolean => method === "GET" || method === "HEAD" || method === "OPTIONS";

/** A write must come from the server's own pages, or from a program that names no origin at all. */
function isOwnWrite(request: NextRequest, host: string): boolean {
  if (readsOnly(request.method)) return true;
  const site = request.headers.get("sec-fetch-site");
  if (site && site !== "same-origin" && site !== "none") return false;
  const origin = request.headers.get("origin");
  if (origin === null) return true;
  try {
    return new URL(origin).host === host;
  } catch {
    return false;
  }
}

function policy(nonce: string): string {
  const dev = process.env.NODE_ENV === "development" ? " 'unsafe-eval'" : "";
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic' 'wasm-unsafe-eval'${dev}`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self'",
    "connect-src 'self' blob:",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join("; ");
}

export function proxy(request: NextRequest): Response {
  const host = request.headers.get("host") ?? "";
  if (!allowedHost(host)) return refuse(421, "This server does not answer to that name.");
  const given = request.nextUrl.searchParams.get("token");
  if (token && given !== null && same(given, token) && readsOnly(request.method)) {
    const clean = new URL(request.nextUrl.pathname, `${request.nextUrl.protocol}//${host}`);
    const entered = NextResponse.redirect(clean);
    entered.cookies.set(COOKIE, token, { httpOnly: true, sameSite: "strict", path: "/", maxAge: 30 * 24 * 3600 });
    return entered;
  }
  if (!isLetIn(request))
    return refuse(401, "This server needs its token: open its address once with ?token=… behind it.");
  if (!isOwnWrite(request, host)) return refuse(403, "Writes are taken from this server's own pages only.");
  const nonce = Buffer.from(crypto.randomUUID()).toString("base64");
  const headers = new Headers(request.headers);
  const csp = policy(nonce);
  headers.set("x-nonce", nonce);
  headers.set("content-security-policy", csp);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set("content-security-policy", csp);
  response.headers.set("x-content-type-options", "nosniff");
  response.headers.set("referrer-policy", "no-referrer");
  return response;
}
