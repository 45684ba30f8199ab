import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { pepperMill } from "../../../demo/models/pepper-mill";
import { laidOutModel } from "../../testing/assets";
import type { Asset, LayoutChange } from "../layout/asset";
import { runEdit } from "../operations/run";
import { everything } from "../operations/scope";

// Work on layouts is shown while it goes on: what is shown fits the asset, and comes to what is kept.

let clock = 0;
beforeEach(() => {
  // Every look at the clock is a long time after the one before.
  vi.spyOn(performance, "now").mockImplementation(() => {
    clock += 1000;
    return clock;
  });
});
afterEach(() => vi.restoreAllMocks());

async function shownBy(asset: Asset, id: string, options: object) {
  const shown: LayoutChange[][] = [];
  const { asset: after } = await runEdit(asset, id, options, everything(asset), {
    progress: () => {},
    show: (layouts) => shown.push([...layouts]),
  });
  return { shown, after };
}

describe("work that is shown while it goes on", () => {
  it("comes nearer to what is kept, with points for every wedge there is", async () => {
    const asset = await laidOutModel(pepperMill);
    for (const [id, options] of [
      ["relax", { passes: 12 }],
      ["unfold", { passes: 30 }],
      ["unfold", { along: "u", passes: 30 }],
    ] as const) {
      const { shown, after } = await shownBy(asset, id, options);
      expect(shown.length, id).toBeGreaterThan(2);
      for (const layouts of shown)
        for (const { shape, layout } of layouts)
          expect(layout!.uv.length).toBe(asset.shapes.get(shape)!.layouts.get("s1")!.uv.length);
      const { shape, layout } = shown.at(-1)![0]!;
      const kept = after.shapes.get(shape)!.layouts.get("s1")!.uv;
      const before = asset.shapes.get(shape)!.layouts.get("s1")!.uv;
      const apart = (a: Float64Array, b: Float64Array) =>
        a.reduce((most, x, i) => Math.max(most, Math.abs(x - b[i]!)), 0);
      expect(apart(layout!.uv, kept), id).toBeLessThanOrEqual(apart(before, kept) + 1e-6);
    }
  });

  it("is not where shells have no place yet", async () => {
    const bare = pepperMill();
    const { asset: opened } = await runEdit(bare, "open-up", {}, everything(bare), { progress: () => {} });
    const { shown } = await shownBy(opened, "unfold", { skip: true });
    expect(shown).toEqual([]);
  });
});
