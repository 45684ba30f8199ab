import { describe, expect, it } from "vitest";
import { ElementSet } from "@/core/select/element-set";
import { paperLantern } from "../../../demo/models/paper-lantern";
import { keptLooks } from "../session/looks";
import { withMeshesOf } from "../session/peek-mark";
import { newBench, nowBefore } from "../session/store";
import { seenState } from "./peek";

describe("looking back", () => {
  it("shows the asset as it was, with nothing picked; else the state itself", () => {
    const bench = newBench(keptLooks());
    const [asset, old] = [paperLantern(), paperLantern()];
    const picked = new Map([["p1", ElementSet.of(4, [1])]]);
    bench.setState({ asset, picked, stretch: new Map() });
    expect(seenState(bench.getState())).toBe(bench.getState());
    // Without a step there is nothing to look back at.
    bench.setState({ peek: true });
    expect(seenState(bench.getState())).toBe(bench.getState());
    const stretch = new Map([["p1", Float32Array.of(1)]]);
    bench.setState({ before: { asset: old, stretch } });
    const seen = seenState(bench.getState());
    expect(seen).toMatchObject({ hover: null, set: bench.getState().set });
    expect([seen.asset, seen.stretch, seen.picked.size]).toEqual([old, stretch, 0]);
    bench.setState({ peek: false });
    expect(seenState(bench.getState()).asset).toBe(asset);
  });

  it("to a mark stays with it over later steps; to the last step goes on with every step", () => {
    const bench = newBench({ asset: paperLantern(), stretch: new Map() });
    expect(nowBefore(bench.getState()).before).toMatchObject({ asset: bench.getState().asset });
    const kept = { asset: paperLantern(), stretch: new Map(), mark: "Before the cuts" };
    bench.setState({ before: kept });
    expect(nowBefore(bench.getState())).toEqual({ before: kept, peek: false });
  });

  it("keeps the meshes that are the same, so that what is drawn of them stays", () => {
    const [now, then] = [paperLantern(), paperLantern()];
    const [first, ...others] = [...then.shapes.keys()];
    const mesh = then.shapes.get(first!)!.mesh;
    const bent = { ...mesh, positions: mesh.positions.map((x, i) => (i === 4 ? x + 1 : x)) };
    const changed = {
      ...then,
      shapes: new Map([...then.shapes, [first!, { ...then.shapes.get(first!)!, mesh: bent }]]),
    };
    const seen = withMeshesOf(changed, now);
    expect(seen.shapes.get(first!)!.mesh).toBe(bent);
    for (const id of others) expect(seen.shapes.get(id)!.mesh).toBe(now.shapes.get(id)!.mesh);
    expect(others.length).toBeGreaterThan(0);
  });
});
