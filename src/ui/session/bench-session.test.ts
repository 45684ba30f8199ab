import fc from "fast-check";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { encodeAsset } from "@/core/formats/asset-bundle";
import { type Asset, fileKey, shapesOf } from "@/core/layout/asset";
import { shellName, structureOf } from "@/core/layout/layout";
import type { Shell } from "@/core/mesh/indices";
import { everything } from "@/core/operations/scope";
import { laidOutModel, picking } from "@/testing/assets";
import { type Fate, StandInServer, saving, servers, startWorker, workers } from "@/testing/stand-in-server";
import { paperLantern } from "../../../demo/models/paper-lantern";
import { BenchSession } from "./bench-session";

// One opened asset as the page holds it, over the real host and a server that keeps what it is sent.

const print = (asset: Asset): string => fileKey(encodeAsset(asset));
/** What is shown of an opened asset. */
const shownOf = (session: BenchSession) => session.bench.getState();

async function opened(id = "a") {
  const server = new StandInServer({ ...(await laidOutModel(paperLantern)), id });
  servers.set(id, server);
  const session = new BenchSession(id, startWorker, saving);
  await session.open(1e9);
  return { session, server };
}

/** Moves one shell of the first shape. */
const move = (session: BenchSession, du: number, shell = 0) => {
  const asset = shownOf(session).asset!;
  const shape = shapesOf(asset)[0]!;
  const s = structureOf(shape.mesh, shape.layouts.get("s1")!);
  return session.edit("Move", "move", { du }, picking(asset, "shells", [shellName(s, shell as Shell)]));
};
const undo = (session: BenchSession) => session.step("undo", "Undo", (h) => h.undo && `Undone: ${h.undo}`);
const redo = (session: BenchSession) => session.step("redo", "Redo", (h) => h.redo && `Redone: ${h.redo}`);

/** Lets everything that is on its way arrive. */
async function settle(session: BenchSession): Promise<void> {
  await vi.waitFor(() => expect(session.isUnsaved || shownOf(session).jobs.length > 0).toBe(false), {
    timeout: 20_000,
  });
}

beforeEach(() => {
  workers.length = 0;
});

describe("one opened asset", () => {
  it("has an edit on the table at once, and tells when the database has it", async () => {
    const { session, server } = await opened();
    let answer = () => {};
    server.held = new Promise((resolve) => {
      answer = resolve;
    });
    await move(session, 0.25);
    expect(print(shownOf(session).asset!)).not.toBe(print(server.asset));
    expect(shownOf(session)).toMatchObject({ unsaved: 1, answers: true });
    await move(session, 0.25);
    expect(shownOf(session).unsaved).toBe(2);
    answer();
    await settle(session);
    expect(shownOf(session).unsaved).toBe(0);
    expect(print(shownOf(session).asset!)).toBe(print(server.asset));
    expect(server.states).toHaveLength(3);
  });

  it("keeps what was shown before the last step, back and forth, and ends looking at it with the next", async () => {
    const { session } = await opened();
    expect(shownOf(session).before).toBeNull();
    const start = shownOf(session).asset;
    await move(session, 0.25);
    const moved = shownOf(session).asset;
    expect(shownOf(session).before!.asset).toBe(start);
    session.bench.setState({ peek: true });
    await undo(session);
    expect(shownOf(session)).toMatchObject({ peek: false });
    expect(shownOf(session).before!.asset).toBe(moved);
  });

  it("knows the number of the step on the table once the database has it, whatever comes after", async () => {
    const { session, server } = await opened();
    expect(await session.savedStep()).toBe(0);
    let answer = () => {};
    server.held = new Promise((resolve) => {
      answer = resolve;
    });
    await move(session, 0.25);
    const step = session.savedStep();
    await move(session, 0.25);
    answer();
    expect(await step).toBe(1);
    expect(await session.savedStep()).toBe(2);
    server.fates = ["refuses"];
    await move(session, 0.25);
    await expect(session.savedStep()).rejects.toThrow("That step was taken back.");
    await settle(session);
    expect(await session.savedStep()).toBe(2);
  });

  it("loses nothing when Stop is pressed while an edit is being saved", async () => {
    const { session, server } = await opened();
    let answer = () => {};
    server.held = new Promise((resolve) => {
      answer = resolve;
    });
    await move(session, 0.25);
    for (const job of shownOf(session).jobs) job.stop();
    answer();
    await settle(session);
    await move(session, 0, 1);
    await settle(session);
    expect(print(shownOf(session).asset!)).toBe(print(server.asset));
    const at = (n: number) => [...shapesOf(server.states[n]!.asset)[0]!.layouts.values()][0]!.uv;
    // The move that was being saved is still there after the edit that followed it.
    expect(Array.from(at(1))).not.toEqual(Array.from(at(0)));
    expect(server.head).toBe(server.states.length - 1);
  });

  it("takes back what the database refuses, with all that stands on it, and says so", async () => {
    const { session, server } = await opened();
    const before = print(shownOf(session).asset!);
    let answer = () => {};
    server.held = new Promise((resolve) => {
      answer = resolve;
    });
    server.fates = ["refuses"];
    await move(session, 0.25);
    await move(session, 0.25, 1);
    answer();
    await settle(session);
    expect(print(shownOf(session).asset!)).toBe(before);
    expect(shownOf(session).message).toMatchObject({ tone: "refused" });
    expect(shownOf(session).message!.words).toBe("2 steps could not be saved and were taken back: The disk is full.");
    await move(session, 0.125);
    await settle(session);
    expect(print(shownOf(session).asset!)).toBe(print(server.asset));
  });

  it("tells of another tab's change and takes the newest when asked", async () => {
    const { session, server } = await opened();
    server.fates = ["is ahead"];
    await move(session, 0.25);
    await settle(session);
    expect(shownOf(session).conflict).toContain("Another tab");
    await session.takeNewest();
    expect(shownOf(session).conflict).toBeNull();
    await move(session, 0.5);
    await settle(session);
    expect(print(shownOf(session).asset!)).toBe(print(server.asset));
  });

  it("keeps an edit while nobody answers, and makes it one edit however often it is sent", async () => {
    const { session, server } = await opened();
    server.fates = ["does not answer", "its answer is lost"];
    await move(session, 0.25);
    await vi.waitFor(() => expect(shownOf(session).answers).toBe(false));
    await settle(session);
    expect(shownOf(session).answers).toBe(true);
    expect(server.states).toHaveLength(2);
    expect(print(shownOf(session).asset!)).toBe(print(server.asset));
  });

  it("puts no work of one asset on another that was opened meanwhile", async () => {
    const a = await opened("a");
    let answer = () => {};
    a.server.held = new Promise((resolve) => {
      answer = resolve;
    });
    await move(a.session, 0.25);
    const late = move(a.session, 0.5, 1);
    const closing = a.session.close();
    const b = await opened("b");
    const before = print(shownOf(b.session).asset!);
    answer();
    await Promise.all([late, closing]);
    await settle(b.session);
    expect(shownOf(b.session).asset!.id).toBe("b");
    expect(print(shownOf(b.session).asset!)).toBe(before);
    // What was on its way when A was left has arrived in A.
    expect(a.server.states.length).toBeGreaterThan(1);
    await move(b.session, 0.125);
    await settle(b.session);
    expect(print(shownOf(b.session).asset!)).toBe(print(b.server.asset));
  });

  it("has what the server has after an undo whose answer was lost, or during which the computation broke down", async () => {
    const { session, server } = await opened();
    const start = print(shownOf(session).asset!);
    await move(session, 0.25);
    await settle(session);
    server.fates = ["its answer is lost"];
    await undo(session);
    expect(print(shownOf(session).asset!)).toBe(start);
    await redo(session);
    const undone = undo(session);
    workers.at(-1)!.breakDown(new Error("broken"));
    await undone;
    await settle(session);
    expect(server.head).toBe(0);
    expect(print(shownOf(session).asset!)).toBe(start);
    await move(session, 0.5);
    await settle(session);
    expect(print(shownOf(session).asset!)).toBe(print(server.asset));
  });

  it("goes on with what is on the table when the computation breaks down", async () => {
    const { session, server } = await opened();
    await move(session, 0.25);
    workers.at(-1)!.breakDown(new Error("out of memory"));
    await vi.waitFor(() => expect(workers).toHaveLength(2));
    expect(shownOf(session).message!.words).toContain("broke down (out of memory)");
    await move(session, 0.25);
    await settle(session);
    expect(print(shownOf(session).asset!)).toBe(print(server.asset));
    expect(server.states).toHaveLength(3);
  });

  it("stops work that does not look within the time, and begins anew with the document as it was", async () => {
    const { session, server } = await opened();
    const before = print(shownOf(session).asset!);
    const forget = session.bench.subscribe(({ jobs }) => jobs.at(-1)?.stop());
    await session.edit("Level", "level", {}, everything(shownOf(session).asset!));
    forget();
    expect(shownOf(session).message!.words).toBe("Level was stopped; nothing has changed.");
    expect(print(shownOf(session).asset!)).toBe(before);
    await move(session, 0.25);
    await settle(session);
    expect(print(shownOf(session).asset!)).toBe(print(server.asset));
  });

  it("does quick undos one after another, with edits between them in order", async () => {
    const { session, server } = await opened();
    const start = print(shownOf(session).asset!);
    const all = [move(session, 0.25), move(session, 0.5), undo(session), undo(session), undo(session), redo(session)];
    await Promise.all(all);
    await settle(session);
    expect(server.head).toBe(1);
    expect(print(shownOf(session).asset!)).toBe(print(server.asset));
    await undo(session);
    expect(print(shownOf(session).asset!)).toBe(start);
    expect(shownOf(session).history).toMatchObject({ undo: null });
  });

  it("has what the server has once all is quiet, whatever happened in whatever order", async () => {
    const act = fc.oneof(
      fc.record({ what: fc.constant("move" as const), by: fc.integer({ min: 1, max: 8 }), shell: fc.nat(1) }),
      fc.record({ what: fc.constantFrom("undo" as const, "redo" as const, "stop" as const, "wait" as const) }),
      fc.record({ what: fc.constantFrom<Fate>("refuses", "does not answer", "its answer is lost") }),
      fc.record({ what: fc.constant("breaks" as const) }),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(act, { minLength: 3, maxLength: 10 }), async (acts) => {
        const { session, server } = await opened();
        const running: Array<Promise<void>> = [];
        for (const a of acts) {
          if (a.what === "move") running.push(move(session, a.by / 8, a.shell));
          else if (a.what === "undo") running.push(undo(session));
          else if (a.what === "redo") running.push(redo(session));
          else if (a.what === "stop") for (const job of shownOf(session).jobs) job.stop();
          else if (a.what === "wait") await running.at(-1);
          else if (a.what === "breaks") workers.at(-1)!.breakDown(new Error("broken"));
          else server.fates.push(a.what);
        }
        await Promise.all(running);
        server.fates = [];
        await settle(session);
        expect(print(shownOf(session).asset!)).toBe(print(server.asset));
        // And it goes on from there.
        await move(session, 0.25);
        await settle(session);
        expect(print(shownOf(session).asset!)).toBe(print(server.asset));
        await session.close();
      }),
      { numRuns: 15 },
    );
  }, 120_000);
});
