import { type NextRequest, NextResponse } from "next/server";
import { COOKIE, hostOf, refusalOf, same, schemeOf, sessionOf, settingsOf, slowDown } from "./server/guard";

// Pages and their files come through here. Requests to /api do not: whatever passes a proxy has its body read first,
// and those bodies are large. Their routes ask the same guard before they read (server/respond.ts).
export const config = { matcher: ["/((?!api/).*)"] };

const settings = settingsOf(process.env);

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

/** The page asked for, with a cookie that lets in, when the right token stands behind its address. */
function entered(request: NextRequest): Response | null {
  const given = request.nextUrl.searchParams.get("token");
  if (!settings.token || given === null || !same(given, settings.token)) return null;
  const secure = schemeOf(request) === "https";
  const clean = new URL(request.nextUrl.pathname, `${secure ? "https" : "http"}://${hostOf(request)}`);
  for (const [name, value] of request.nextUrl.searchParams)
    if (name !== "token") clean.searchParams.append(name, value);
  const response = NextResponse.redirect(clean);
  response.cookies.set(COOKIE, sessionOf(settings.token), {
    httpOnly: true,
    sameSite: "strict",
    secure,
    path: "/",
    maxAge: 30 * 24 * 3600,
  });
  return response;
}

export async function proxy(request: NextRequest): Promise<Response> {
  const refused = refusalOf(request, settings);
  if (refused?.status === 401) {
    const response = entered(request);
    if (response) return response;
  }
  if (refused) {
    await slowDown(refused);
    return Response.json({ error: refused.error }, { status: refused.status });
  }
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
