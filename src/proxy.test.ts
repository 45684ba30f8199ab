import { NextRequest } from "next/server";
import { afterEach, describe, expect, it, vi } from "vitest";
import { sessionOf, slowDown } from "./server/guard";

/** The guard as it stands with these settings. */
async function guard(settings: Record<string, string> = {}) {
  vi.resetModules();
  vi.stubEnv("TAVLIN_TOKEN", settings.TAVLIN_TOKEN ?? "");
  vi.stubEnv("TAVLIN_HOSTS", settings.TAVLIN_HOSTS ?? "");
  const { proxy } = await import("./proxy");
  return (path: string, init: { method?: string; headers?: Record<string, string> } = {}): Promise<Response> =>
    proxy(
      new NextRequest(`http://127.0.0.1:4310${path}`, {
        ...init,
        headers: { host: "127.0.0.1:4310", ...init.headers },
      }),
    );
}

afterEach(() => vi.unstubAllEnvs());

describe("the guard at the door", () => {
  it("answers to loopback names only, until a token guards it", async () => {
    const open = await guard();
    for (const host of ["localhost:1", "127.0.0.1", "[::1]:4310"])
      expect((await open("/", { headers: { host } })).status).toBe(200);
    for (const host of ["market.example", "127.0.0.1.market.example", ""])
      expect((await open("/", { headers: { host } })).status).toBe(421);
    const team = await guard({ TAVLIN_TOKEN: "cumin", TAVLIN_HOSTS: "stall.local" });
    expect((await team("/", { headers: { host: "stall.local:80", authorization: "Bearer cumin" } })).status).toBe(200);
    expect((await team("/", { headers: { host: "other.local", authorization: "Bearer cumin" } })).status).toBe(421);
  });

  it("asks for the token on every route, and takes it once as a cookie", async () => {
    const team = await guard({ TAVLIN_TOKEN: "cumin" });
    for (const path of ["/", "/api/assets", "/bench/1", "/api/backup", "/_next/static/x.js"]) {
      expect((await team(path)).status).toBe(401);
      expect((await team(path, { headers: { authorization: "Bearer cumim" } })).status).toBe(401);
      expect((await team(path, { headers: { cookie: `tavlin-session=${sessionOf("cumin")}` } })).status).toBe(200);
    }
    const entered = await team("/?token=cumin");
    expect(entered.status).toBe(307);
    expect(entered.headers.get("location")).toBe("http://127.0.0.1:4310/");
    expect(entered.headers.get("set-cookie")).toMatch(
      new RegExp(`tavlin-session=${sessionOf("cumin")}.*HttpOnly`, "i"),
    );
    expect(entered.headers.get("set-cookie")).not.toContain("cumin");
    expect((await team("/?token=wrong")).status).toBe(401);
  });

  it("takes its names in any case, marks the cookie as secure behind TLS, and keeps the rest of the address", async () => {
    const open = await guard();
    expect((await open("/", { headers: { host: "LocalHost:4310" } })).status).toBe(200);
    const team = await guard({ TAVLIN_TOKEN: "cumin", TAVLIN_HOSTS: "Stall.Local" });
    const bearer = { authorization: "Bearer cumin" };
    expect((await team("/", { headers: { host: "STALL.local", ...bearer } })).status).toBe(200);
    const plain = await team("/bench/7?token=cumin&at=3&at=4");
    expect(plain.headers.get("location")).toBe("http://127.0.0.1:4310/bench/7?at=3&at=4");
    expect(plain.headers.get("set-cookie")).not.toMatch(/secure/i);
    const tls = await team("/?token=cumin", { headers: { "x-forwarded-proto": "https" } });
    expect(tls.headers.get("set-cookie")).toMatch(/secure/i);
    expect(tls.headers.get("location")).toMatch(/^https:/);
    // An origin of another scheme is another page.
    const origin = { origin: "https://127.0.0.1:4310" };
    expect((await open("/api/assets", { method: "POST", headers: origin })).status).toBe(403);
  });

  it("holds back the answer to a wrong token, and longer when several guess at once", async () => {
    const guessed = { status: 401 as const, error: "", guessed: true };
    const began = performance.now();
    const waits = await Promise.all(
      [0, 1, 2].map(async () => {
        await slowDown(guessed, 20);
        return performance.now() - began;
      }),
    );
    expect(waits[0]).toBeGreaterThanOrEqual(19);
    expect(waits[2]).toBeGreaterThanOrEqual(59);
    expect(waits[0]!).toBeLessThan(waits[2]!);
    const team = await guard({ TAVLIN_TOKEN: "cumin" });
    const asked = performance.now();
    await team("/?token=wrong");
    expect(performance.now() - asked).toBeGreaterThan(300);
  });

  it("takes writes from its own pages and from programs, not from other sites", async () => {
    const open = await guard();
    const write = async (headers: Record<string, string>) =>
      (await open("/api/assets", { method: "POST", headers })).status;
    expect(await write({})).toBe(200);
    expect(await write({ origin: "http://127.0.0.1:4310", "sec-fetch-site": "same-origin" })).toBe(200);
    expect(await write({ origin: "http://market.example" })).toBe(403);
    expect(await write({ origin: "null" })).toBe(403);
    expect(await write({ "sec-fetch-site": "cross-site" })).toBe(403);
  });

  it("sends a policy with a number of its own each time", async () => {
    const open = await guard();
    const [a, b] = (await Promise.all([open("/"), open("/")])).map((r) => r.headers.get("content-security-policy")!);
    expect(a).toContain("object-src 'none'");
    expect(a).not.toBe(b);
  });
});
