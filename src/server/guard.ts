import { createHmac, timingSafeEqual } from "node:crypto";

// Whom the server talks to, and from where it may be asked. Looked at before anything of a request's body is read.

const LOCAL = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;
export const COOKIE = "tavlin-session";

export interface Settings {
  readonly token: string;
  /** Names the server answers to beside the loopback ones, once a token guards it. */
  readonly hosts: readonly string[];
}

export const settingsOf = (env: Readonly<Record<string, string | undefined>>): Settings => ({
  token: env.TAVLIN_TOKEN ?? "",
  hosts: (env.TAVLIN_HOSTS ?? "").toLowerCase().split(",").filter(Boolean),
});

/** A request that is not let in. */
export interface Refused {
  readonly status: 401 | 403 | 421;
  readonly error: string;
  /** A wrong token was given: the answer is held back, so that guessing is slow. */
  readonly guessed: boolean;
}

export function same(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(a), Buffer.from(b)];
  return x.length === y.length && timingSafeEqual(x, y);
}

/** What the cookie holds: it lets in like the token, and does not tell it. */
export const sessionOf = (token: string): string => createHmac("sha256", token).update("session").digest("hex");

const readsOnly = (method: string): boolean => method === "GET" || method === "HEAD" || method === "OPTIONS";

export const hostOf = (request: Request): string => (request.headers.get("host") ?? "").toLowerCase();

/** The scheme the browser speaks: that of a proxy with TLS before this server, when there is one. */
export const schemeOf = (request: Request): string =>
  request.headers.get("x-forwarded-proto")?.split(",")[0]?.trim() ?? new URL(request.url).protocol.replace(":", "");

function allowedHost(host: string, { token, hosts }: Settings): boolean {
  if (LOCAL.test(host)) return true;
  return token !== "" && hosts.includes(host.replace(/:\d+$/, ""));
}

function cookieOf(request: Request): string | undefined {
  for (const pair of (request.headers.get("cookie") ?? "").split(";")) {
    const [name, value] = pair.trim().split("=");
    if (name === COOKIE) return value;
  }
  return undefined;
}

/** The token may come with every request as a bearer, or be given once as ?token=… and stay as a cookie. */
function isLetIn(request: Request, { token }: Settings): "yes" | "no" | "wrong" {
  if (!token) return "yes";
  const bearer = /^Bearer (.+)$/.exec(request.headers.get("authorization") ?? "")?.[1];
  const cookie = cookieOf(request);
  if (bearer !== undefined && same(bearer, token)) return "yes";
  if (cookie !== undefined && same(cookie, sessionOf(token))) return "yes";
  const given = new URL(request.url).searchParams.get("token");
  return bearer !== undefined || given !== null ? "wrong" : "no";
}

/**
 * Whether a request comes from the server's own pages, or from a program that names no origin at all. Pages may be
 * opened from anywhere; what lies under /api may be read and written from here only, since even reading costs work.
 */
function isOwn(request: Request): boolean {
  const api = new URL(request.url).pathname.startsWith("/api/");
  if (!api && readsOnly(request.method)) return true;
  const site = request.headers.get("sec-fetch-site");
  if (site && site !== "same-origin" && site !== "none") return false;
  const origin = request.headers.get("origin");
  if (origin === null) return true;
  return origin.toLowerCase() === `${schemeOf(request)}://${hostOf(request)}`;
}

/** Why a request is not let in; null when it is. */
export function refusalOf(request: Request, settings: Settings): Refused | null {
  if (!allowedHost(hostOf(request), settings))
    return { status: 421, error: "This server does not answer to that name.", guessed: false };
  const in_ = isLetIn(request, settings);
  if (in_ !== "yes")
    return {
      status: 401,
      error: "This server needs its token: open its address once with ?token=… behind it.",
      guessed: in_ === "wrong",
    };
  if (!isOwn(request)) return { status: 403, error: "This server is asked from its own pages only.", guessed: false };
  return null;
}

let waiting = 0;

/** Holds the answer to a wrong token back; many at once wait longer, so that guessing side by side gains nothing. */
export async function slowDown(refused: Refused, milliseconds = 400): Promise<void> {
  if (!refused.guessed) return;
  waiting++;
  await new Promise((resolve) => setTimeout(resolve, Math.min(10_000, milliseconds * waiting)));
  waiting--;
}
