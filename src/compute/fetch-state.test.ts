import { gzipSync } from "fflate";
import { afterEach, describe, expect, it, vi } from "vitest";
import { UserError } from "../core/layout/user-error";
import { frameArray } from "../wire/array-stream";
import { ArrayStore, fetchAsset } from "./fetch-state";

/** A server that hands out arrays by names of one letter, and counts what it was asked for. */
function server(arrays: Record<string, Uint8Array>, breakOffAfter = Infinity) {
  const asked: string[][] = [];
  vi.stubGlobal("fetch", async (_: string, init: RequestInit) => {
    const { hashes } = JSON.parse(init.body as string) as { hashes: string[] };
    asked.push(hashes);
    const frames = hashes.slice(0, breakOffAfter).map((h) => frameArray(arrays[h]!.length, [gzipSync(arrays[h]!)]));
    return new Response(new Blob(frames as BlobPart[]));
  });
  return asked;
}
afterEach(() => vi.unstubAllGlobals());

describe("arrays of the server, kept at hand", () => {
  it("are fetched once, and those that were made here are not fetched at all", async () => {
    const asked = server({ a: Uint8Array.of(1), b: Uint8Array.of(2, 2), c: Uint8Array.of(3) });
    const store = new ArrayStore();
    store.note("c", Float64Array.of(0.5));
    const first = await store.bring(["a", "b", "c"]);
    expect([...first("a"), ...first("b")]).toEqual([1, 2, 2]);
    expect(first("c")).toHaveLength(8);
    const again = await store.bring(["b", "a"]);
    expect([...again("b")]).toEqual([2, 2]);
    expect(asked).toEqual([["a", "b"]]);
  });

  it("are refused whole when the server breaks off", async () => {
    server({ a: Uint8Array.of(1), b: Uint8Array.of(2) }, 1);
    await expect(new ArrayStore().bring(["a", "b"])).rejects.toThrow("The server broke off; try again.");
  });

  it("are let go of, the oldest first, when they take more memory than may be", async () => {
    const asked = server({ old: Uint8Array.of(1) });
    const store = new ArrayStore();
    await store.bring(["old"]);
    // Memory that is never written to is never taken either.
    for (let k = 0; k < 3; k++) store.note(`big${k}`, new Uint8Array(200 * 1024 * 1024));
    await store.bring(["old"]);
    expect(asked).toEqual([["old"], ["old"]]);
  });
});

describe("an asset of the server", () => {
  it("is refused in the server's words; where nobody answers, that is no refusal", async () => {
    vi.stubGlobal(
      "fetch",
      async () => new Response(JSON.stringify({ error: "This asset is no longer there." }), { status: 404 }),
    );
    await expect(fetchAsset(new ArrayStore(), "a")).rejects.toThrow(UserError);
    await expect(fetchAsset(new ArrayStore(), "a")).rejects.toThrow("This asset is no longer there.");
    vi.stubGlobal("fetch", async () => {
      throw new TypeError("fetch failed");
    });
    const error = await fetchAsset(new ArrayStore(), "a").catch((e: Error) => e);
    expect(error).toBeInstanceOf(Error);
    expect(error).not.toBeInstanceOf(UserError);
  });
});
