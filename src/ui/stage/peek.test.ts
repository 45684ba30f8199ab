import { describe, expect, it } from "vitest";
import { ElementSet } from "@/core/select/element-set";
import { paperLantern } from "../../../demo/models/paper-lantern";
import { keptLooks } from "../session/looks";
import { newBench } from "../session/store";
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
});
