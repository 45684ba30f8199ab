import { beforeEach, describe, expect, it, vi } from "vitest";
import { shapesOf } from "@/core/layout/asset";
import { structureOf } from "@/core/layout/layout";
import { pointNames } from "@/core/layout/point-names";
import { dabWords } from "@/core/layout/stroke";
import { squares } from "@/testing/squares";
import { StandInServer, saving, servers, startWorker, workers } from "@/testing/stand-in-server";
import { beginMove, beginPull, beginRelax } from "./actions";
import { BenchSession } from "./bench-session";
import { pickMany, setKind } from "./selection";

// Work under the pointer as the page does it, over the real host and a server that keeps what it is sent.

const asset = squares([
  [0.1, 0.1, 0.2, 0.2],
  [0.31, 0.12, 0.2, 0.2],
]);
const shape = shapesOf(asset)[0]!;
const name = (wedge: number) => pointNames(structureOf(shape.mesh, shape.layouts.get("s1")!))[wedge]!;
const STILL = { du: 0, dv: 0, turn: 0, scale: 1 };

let session: BenchSession;
let server: StandInServer;
beforeEach(async () => {
  workers.length = 0;
  server = new StandInServer({ ...asset, id: "a" });
  servers.set("a", server);
  session = new BenchSession("a", startWorker, saving);
  await session.open(1e9);
});

const uv = () => shapesOf(session.bench.getState().asset!)[0]!.layouts.get("s1")!.uv;
const settled = () =>
  vi.waitFor(() => expect(session.isUnsaved || session.bench.getState().jobs.length > 0).toBe(false), {
    timeout: 9000,
  });
/** The last step as the server has it. */
const lastOptions = () => server.sent.at(-1)!.options as Record<string, unknown>;

describe("points under the pointer", () => {
  const from = 1;
  beforeEach(() => {
    setKind(session.bench, "points");
    pickMany(session.bench, new Map([[shape.id, [name(from)]]]), "replace");
  });
  const place = () => [uv()[2 * from]!, uv()[2 * from + 1]!];
  /** Where the point comes to when it is dragged by so much. */
  const dragged = async (du: number, dv: number) => {
    const [u, v] = place() as [number, number];
    const live = await beginMove(session, { at: [u, v], within: 0.02 });
    const shown = vi.fn();
    session.bench.subscribe(({ live: now }) => now.size && shown(now));
    const motion = { ...STILL, du, dv };
    session.bench.setState({ overlay: { pane: "sheet", shape: { kind: "motion", motion } } });
    live!.update({ ...STILL, du, dv });
    await vi.waitFor(() => expect(shown).toHaveBeenCalled());
    const overlay = session.bench.getState().overlay!.shape as unknown as { motion: typeof STILL };
    await live!.commit({ ...STILL, du, dv });
    await settled();
    return overlay.motion;
  };

  it("are taken hold of after what is on its way, and then of the document as it is", async () => {
    const [u, v] = place() as [number, number];
    await dragged(0.1, 0);
    const undone = session.step("undo", "Undo", (h) => h.undo);
    const live = await beginMove(session, null);
    expect(place()).toEqual([u, v]);
    await live!.commit({ ...STILL, dv: 0.2 });
    await undone;
    await settled();
    expect(session.bench.getState().message?.tone).not.toBe("refused");
    expect(place()).toEqual([u, v + 0.2]);
  });

  it("go where the pointer goes, and onto what lies near it where that is chosen", async () => {
    const [u, v] = place() as [number, number];
    expect((await dragged(0.011, 0.013)).du).toBe(0.011);
    expect(place()).toEqual([u + 0.011, v + 0.013]);
    session.bench.setState({ snap: "grid" });
    const shown = await dragged(0.063, 0.0);
    expect(place()[0]).toBeCloseTo(0.375, 12);
    // What is shown is where it comes to, and so is what the step remembers.
    expect(shown.du).toBeCloseTo(0.375 - u - 0.011, 12);
    expect(lastOptions()).not.toHaveProperty("snap");
    expect(lastOptions().du).toBeCloseTo(shown.du, 12);
    session.bench.setState({ snap: "tiles" });
    await dragged(-0.37, -0.11);
    expect(place()[0]).toBeCloseTo(0, 12);
    expect(place()[1]).toBeCloseTo(0, 12);
  });

  it("are pulled as a step of their own, and nothing is begun where none can move", async () => {
    const live = await beginPull(session);
    await live!.commit({ ...STILL, du: -0.01, dv: -0.02 });
    await settled();
    expect(server.sent.at(-1)).toMatchObject({ operation: "pull-points", options: { du: -0.01, dv: -0.02 } });
    pickMany(session.bench, new Map(), "replace");
    expect(await beginPull(session)).toBeNull();
    expect(session.bench.getState().message?.words).toContain("Pick");
  });

  it("are let go where they were", async () => {
    const before = uv().slice();
    const live = await beginMove(session, null);
    live!.update({ ...STILL, du: 0.3 });
    live!.drop();
    await settled();
    expect(uv()).toEqual(before);
    expect(server.sent).toHaveLength(0);
  });
});

describe("the relax brush", () => {
  it("evens out what is drawn over as one step, with the strength and the way of the tray", async () => {
    setKind(session.bench, "points");
    pickMany(session.bench, new Map([[shape.id, [name(1)]]]), "replace");
    await (await beginMove(session, null))!.commit({ ...STILL, du: 0.05 });
    pickMany(session.bench, new Map([[shape.id, [name(1)]]]), "remove");
    session.bench.setState({ options: { "relax-stroke": { way: "smooth", strength: 0.3 } } });
    const live = await beginRelax(session);
    const stroke = [0.3, 0.35].map((u) => dabWords({ u, v: 0.1, radius: 0.04 })).join(", ");
    const moved = uv().slice();
    live!.update({ stroke });
    await live!.commit({ stroke });
    await settled();
    expect(uv()).not.toEqual(moved);
    expect(server.sent.at(-1)).toMatchObject({
      operation: "relax-stroke",
      options: { stroke, way: "smooth", strength: 0.3 },
    });
  });
});
