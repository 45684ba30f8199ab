import { describe, expect, it } from "vitest";
import { box } from "../../testing/packing";
import { EFFORTS } from "../layout/pack-wishes";
import { Stopped } from "../layout/stopped";
import type { FoundLayout } from "./page";
import { areaOf, type Page, placedItem, STAYS } from "./page";
import { boundsOf, type Item } from "./raster";
import { type RoughOptions, searchRoughly } from "./rough-search";
import { missing } from "./verify";
import { waysOf } from "./ways";

const square: Page = { u0: 0, v0: 0, w: 1, h: 1, texels: 1024 };
const PADDING = 8 / 1024;
/** A cell of the sheets for few shells, along the longer side of a page of 1. */
const CELL = 1 / 512;

const boxes = Array.from({ length: 24 }, (_, i) => box(0.1 + 0.07 * ((i * 5) % 7), 0.1 + 0.05 * ((i * 3) % 11)));

/** All that a search told, one after another. */
function told(items: readonly Item[], more: Partial<RoughOptions> = {}, onStep: (share: number) => void = () => {}) {
  const out: FoundLayout[] = [];
  const ways = items.map((item) => waysOf(item, { turns: "quarters" }));
  const options = { page: square, unit: 1, padding: PADDING, ways, effort: EFFORTS.quick.effort, ...more };
  searchRoughly(items, options, onStep, (found) => out.push(found));
  return out;
}
const lie = (items: readonly Item[], { placements }: FoundLayout) =>
  items.map((item, i) => placedItem(item, placements[i]!));

describe("the search for a rough layout", () => {
  it("gets denser by repacking, which is not done where something stays", () => {
    const ordered = told(boxes, { repacked: 0 }).at(-1)!;
    const repacked = told(boxes).at(-1)!;
    expect(repacked.scale).toBeGreaterThan(ordered.scale * 1.002);
    expect(areaOf(lie(boxes, repacked))).toBeCloseTo(areaOf(boxes) * repacked.scale ** 2, 9);
    const obstacles = [placedItem(box(0.1, 0.1), { ...STAYS, du: 9 })];
    expect(told(boxes, { obstacles })).toEqual(told(boxes, { obstacles, repacked: 0 }));
  });

  it.each([
    ["a square", square],
    ["a wide", { ...square, u0: 3, v0: -1, w: 1, h: 0.6 }],
    ["a tall", { ...square, u0: -0.5, v0: 2, w: 0.45, h: 1 }],
  ])("tells larger and larger layouts in %s page, at no place nearer than a cell to what is to be kept", (_, page) => {
    const all = told(boxes, { page, effort: EFFORTS.quick.effort + 0.03 });
    expect(all.length).toBeGreaterThan(2);
    const scales = all.map(({ scale }) => scale);
    expect(scales).toEqual([...scales].sort((a, b) => a - b));
    for (const found of all.slice(-4)) {
      const items = lie(boxes, found);
      expect(missing(items, page, PADDING)).toBeLessThan(CELL);
      for (const { u0, v0, u1, v1 } of items.map(boundsOf)) {
        expect(Math.min(u0 - page.u0, v0 - page.v0)).toBeGreaterThan(-CELL);
        expect(Math.min(page.u0 + page.w - u1, page.v0 + page.h - v1)).toBeGreaterThan(-CELL);
      }
    }
  });

  it("comes to the same for a seed, and tells shares of the time that only grow", () => {
    const shares: number[] = [];
    const options = { effort: EFFORTS.quick.effort + 0.03, seed: 5 };
    const one = told(boxes, options, (share) => shares.push(share));
    expect(told(boxes, options)).toEqual(one);
    expect(shares.at(-1)!).toBeLessThanOrEqual(1);
    expect(shares.at(-1)!).toBeGreaterThan(0.9);
  });

  it("finds with a share of the changes what it finds first with all of them, and more with more", () => {
    const [some, all, more] = [0.2, undefined, 3].map((repacked) => told(boxes, { repacked }));
    expect(all!.slice(0, some!.length)).toEqual(some);
    expect(more!.slice(0, all!.length)).toEqual(all);
    expect(more!.length).toBeGreaterThan(some!.length);
  });

  it("ends where it is stopped, with what it told before", () => {
    const out: FoundLayout[] = [];
    const ways = boxes.map((item) => waysOf(item, { turns: "quarters" }));
    const stop = (share: number) => {
      if (share > 0.5) throw new Stopped("Stopped.");
    };
    const options = { page: square, unit: 1, padding: PADDING, ways, effort: EFFORTS.thorough.effort };
    expect(() => searchRoughly(boxes, options, stop, (found) => out.push(found))).toThrow(Stopped);
    expect(missing(lie(boxes, out.at(-1)!), square, PADDING)).toBeLessThan(CELL);
  });
});
