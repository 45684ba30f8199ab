import { beforeEach, describe, expect, it, vi } from "vitest";
import type { DocumentWorker } from "@/compute/document";
import { DocumentHost } from "@/compute/host";
import { type Asset, shapesOf } from "@/core/layout/asset";
import { shellName, structureOf } from "@/core/layout/layout";
import type { Shell } from "@/core/mesh/indices";
import { laidOutModel, picking } from "@/testing/assets";
import { paperLantern } from "../../../demo/models/paper-lantern";
import { liveMove } from "./live-move";
import type { Motion } from "./store";
import { type Bench, newBench } from "./store";

let bench: Bench;

const motion = (du: number) => ({ du, dv: 0, turn: 0, scale: 1 });

/** A move of the lantern's first shell over the real host, whose answers come a little later. */
async function begun(measured = true) {
  const host = new DocumentHost(null);
  const { asset, revision } = host.load(await laidOutModel(paperLantern));
  const shape = shapesOf(asset)[0]!;
  const layout = shape.layouts.get("s1")!;
  const scope = picking(asset, "shells", [shellName(structureOf(shape.mesh, layout), 0 as Shell)]);
  if (measured) await host.measure(revision, "s1", "area");
  bench.setState({ asset, set: "s1" });
  const session = await host.begin(revision, "move", scope);
  const asked: number[] = [];
  const committed: number[] = [];
  let dropped = 0;
  const remote = {
    update: async (id: number, m: { du: number }) => {
      asked.push(m.du);
      await new Promise((resolve) => setTimeout(resolve, 2));
      return host.update(id, m);
    },
    figures: async (id: number, m: object, kind: "area") => host.figures(id, m, kind),
    drop: async (id: number) => host.drop(id),
  };
  const move = liveMove<Motion>({
    remote: () => remote as unknown as DocumentWorker["remote"],
    session,
    more: {},
    isClosed: () => false,
    bench,
    commit: async (m) => {
      committed.push(m.du);
    },
    dropped: () => dropped++,
  });
  return { move, asset, shape, asked, committed, drops: () => dropped };
}
const liveU = (asset: Asset) => bench.getState().live.get(shapesOf(asset)[0]!.id)?.[0];

beforeEach(() => {
  bench = newBench();
});

describe("shells under the pointer", () => {
  it("follow the newest motion: those passed over while the host is at work are not asked for", async () => {
    const { move, asked, asset, shape } = await begun();
    for (let k = 1; k <= 50; k++) move.update(motion(k / 100));
    const u = shape.layouts.get("s1")!.uv[0]!;
    await vi.waitFor(() => expect(liveU(asset)).toBeCloseTo(u + 0.5, 9));
    expect(asked.at(-1)).toBe(0.5);
    expect(asked.length).toBeLessThan(10);
  });

  it("have their figures behind them", async () => {
    const { move } = await begun();
    move.update(motion(0.5));
    await vi.waitFor(() => expect(bench.getState().measures).not.toBeNull());
    const { measures, summary } = bench.getState();
    expect(measures?.shells).toBeGreaterThan(1);
    expect(summary?.shells).toBe(measures!.allShells);
  });

  it("go back when they are dropped, are one step when they are let go, and show nothing live afterwards", async () => {
    const first = await begun();
    first.move.update(motion(0.25));
    await vi.waitFor(() => expect(bench.getState().live.size).toBe(1));
    first.move.drop();
    expect(bench.getState().live.size).toBe(0);
    expect(first.drops()).toBe(1);
    const second = await begun();
    second.move.update(motion(0.25));
    await second.move.commit(motion(0.25));
    // What was under way when they were let go shows nothing any more.
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(second.committed).toEqual([0.25]);
    expect(bench.getState().live.size).toBe(0);
  });

  it("follow without figures while nothing was measured yet", async () => {
    const { move, asset } = await begun(false);
    move.update(motion(0.25));
    await vi.waitFor(() => expect(liveU(asset)).toBeDefined());
    expect(bench.getState().measures).toBeNull();
  });
});
