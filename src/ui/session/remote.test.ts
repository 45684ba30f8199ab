import { afterEach, describe, expect, it, vi } from "vitest";
import { encodeBundle } from "@/core/formats/bundle";
import { UserError } from "@/core/layout/user-error";
import {
  changeMarkRemote,
  deleteMarkRemote,
  deleteRemote,
  fetchFiles,
  fetchHistory,
  NoAnswer,
  renameRemote,
  restoreRemote,
  sendAsset,
  sendEdit,
  sendFigures,
  sendMark,
  sendStep,
  takeNumber,
  VersionConflict,
} from "./remote";

// What the page makes of the server's answers: whatever comes is an answer that fits, a refusal in words, somebody who
// was there first, or nobody who answers.

const asked: Array<{ path: string; method: string; body: unknown }> = [];

/** The network, with one answer for everything that is asked. */
function network(answer: () => Response | Promise<Response>): void {
  asked.length = 0;
  vi.stubGlobal("fetch", async (path: string, init: RequestInit = {}) => {
    asked.push({ path, method: init.method ?? "GET", body: init.body });
    return answer();
  });
}
const json = (value: unknown, status = 200) => new Response(JSON.stringify(value), { status });
afterEach(() => vi.unstubAllGlobals());

const history = { version: 3, head: 2, undo: "Cut", redo: null };
const appended = { history, delta: { parts: [], shapes: [], layouts: [] } };
const body = Uint8Array.of(1, 2, 3);

describe("what is asked of the server", () => {
  it("goes to its place, and its answer is read", async () => {
    network(() => json(appended));
    expect(await sendEdit("a", body)).toEqual(appended);
    expect(asked[0]).toEqual({ path: "/api/assets/a/revisions", method: "POST", body });
    expect((await sendStep("a", 3, { to: 1 })).history).toEqual(history);
    expect(JSON.parse(asked[1]!.body as string)).toEqual({ base: 3, step: { to: 1 } });
    network(() => json({ id: "new" }));
    expect(await sendAsset(body)).toBe("new");
    network(() => json({ number: 7 }));
    expect(await takeNumber("a")).toBe(7);
    network(() => json({ steps: [], marks: [] }));
    expect(await fetchHistory("a")).toEqual({ steps: [], marks: [] });
    network(() => json({ ids: ["x", "y"] }));
    expect(await restoreRemote(new Blob(["b"]))).toBe(2);
    network(() => new Response(encodeBundle(["k1", "k2"], [Uint8Array.of(1), Uint8Array.of(2, 3)])));
    expect(await fetchFiles("a")).toEqual({ k1: Uint8Array.of(1), k2: Uint8Array.of(2, 3) });
  });

  it("names marks and assets as they are to be called", async () => {
    network(() => json({}));
    await sendMark("a", { name: "First" });
    await changeMarkRemote("a", { id: "m", name: "Second" });
    await deleteMarkRemote("a", "m & n");
    await renameRemote("a", "Drum");
    await deleteRemote("a");
    expect(asked.map(({ path, method }) => `${method} ${path}`)).toEqual([
      "POST /api/assets/a/marks",
      "PATCH /api/assets/a/marks",
      "DELETE /api/assets/a/marks?mark=m%20%26%20n",
      "PATCH /api/assets/a",
      "DELETE /api/assets/a",
    ]);
    expect(JSON.parse(asked[3]!.body as string)).toEqual({ name: "Drum" });
  });

  it("is refused in the server's words, or by its number when it has none", async () => {
    network(() => json({ error: "This mark is no longer there." }, 404));
    await expect(sendMark("a", { name: "x" })).rejects.toThrow(UserError);
    await expect(sendMark("a", { name: "x" })).rejects.toThrow("This mark is no longer there.");
    network(() => new Response("<html>", { status: 500 }));
    await expect(fetchHistory("a")).rejects.toThrow("The server answered 500.");
  });

  it("tells somebody who was there first from a refusal, and both from nobody who answers", async () => {
    const kind = async (answer: () => Response) => {
      network(answer);
      const error = await sendEdit("a", body).catch((e: Error) => e);
      return (error as Error).constructor;
    };
    expect(await kind(() => json({ error: "changed elsewhere" }, 409))).toBe(VersionConflict);
    expect(await kind(() => json({ error: "does not fit" }, 400))).toBe(UserError);
    for (const status of [502, 503, 504]) expect(await kind(() => json({ error: "a gateway" }, status))).toBe(NoAnswer);
    expect(
      await kind(() => {
        throw new TypeError("fetch failed");
      }),
    ).toBe(NoAnswer);
  });

  it("is no answer at all when it does not fit", async () => {
    network(() => json({ history: { ...history, version: "three" }, delta: appended.delta }));
    await expect(sendEdit("a", body)).rejects.toThrow();
    network(() => json({ number: "seven" }));
    await expect(takeNumber("a")).rejects.toThrow();
  });

  it("is of no consequence for figures: they are told again with the next", async () => {
    network(() => json({ error: "no" }, 500));
    const figures = {
      faces: 1,
      shells: 1,
      unmapped: 0,
      stretch: 1,
      spread: 0,
      coverage: 1,
      overlap: 0,
      flipped: 0,
      collapsed: 0,
      seams: 0,
    };
    await expect(sendFigures("a", 3, figures)).resolves.toBeUndefined();
  });
});
