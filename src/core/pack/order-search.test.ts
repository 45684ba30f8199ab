import { describe, expect, it } from "vitest";
import { box } from "../../testing/packing";
import { withKernels } from "../kernels/kernels";
import { type OrderOptions, OrderSearch, searchOrder } from "./order-search";
import { areaOf, type FoundLayout, placedItem } from "./page";
import type { Item } from "./raster";
import { searchRoughly } from "./rough-search";
import { missing } from "./verify";
import { waysOf } from "./ways";

/** Boxes that fill a square exactly: it is cut into columns, and each of these into rows. */
const cutSquare = (): Item[] => {
  const columns = [0.37, 0.2, 0.43];
  const rows = [
    [0.5, 0.3, 0.2],
    [0.25, 0.75],
    [0.1, 0.33, 0.57],
  ];
  return columns.flatMap((w, i) => rows[i]!.map((h) => box(w, h)));
};

const page = { u0: 0, v0: 0, w: 1, h: 1, texels: 1024 };
const plain = (items: readonly Item[], more: Partial<OrderOptions> = {}): OrderOptions => ({
  page,
  unit: 1,
  padding: 0,
  ways: items.map((item) => waysOf(item, { turns: "quarters" })),
  effort: 0.4,
  ...more,
});
const nothing = () => {};

/** All that a search told, one after another. */
function told(items: readonly Item[], more: Partial<OrderOptions> = {}): FoundLayout[] {
  const out: FoundLayout[] = [];
  searchOrder(items, plain(items, more), nothing, (found) => out.push(found));
  return out;
}

describe("the search for an order", () => {
  it("comes to the same for the same shells, and is told of larger ones only", () => {
    const items = Array.from({ length: 14 }, (_, i) => box(0.1 + 0.07 * ((i * 5) % 7), 0.1 + 0.05 * ((i * 3) % 11)));
    const [one, other] = [told(items), told(items)];
    expect(other).toEqual(one);
    const scales = one.map((found) => found.scale);
    expect(scales).toEqual([...scales].sort((a, b) => a - b));
    expect(areaOf(items) * scales.at(-1)! ** 2).toBeGreaterThan(0.86);
  });

  it("lays boxes that fill a square so that hardly anything is left", () => {
    const items = cutSquare();
    expect(areaOf(items) * told(items, { effort: 2.5 }).at(-1)!.scale ** 2).toBeGreaterThan(0.9);
  });

  it("changes orders also where only one scale is wanted", () => {
    const items = Array.from({ length: 14 }, (_, i) => box(0.1 + 0.07 * ((i * 5) % 7), 0.1 + 0.05 * ((i * 3) % 11)));
    // No key alone leads to an order that fits.
    const tries = (count: number) =>
      withKernels((kernels) => {
        const options = plain(items, { fixed: 0.845 });
        return new OrderSearch(kernels, items, options, { cells: 512 }, nothing, nothing).run(null, count).scale;
      });
    expect([0, 200].map(tries)).toEqual([0, 0.845]);
  });

  it("goes on from what was found on other cells until that is as large as it goes", () => {
    const items = cutSquare();
    const order = items.map((_, i) => i);
    const { scale } = withKernels((kernels) =>
      new OrderSearch(kernels, items, plain(items), { cells: 1024 }, nothing, nothing).run(
        { order, worth: 0, scale: 0.3 },
        150,
      ),
    );
    expect(areaOf(items) * scale ** 2).toBeGreaterThan(0.75);
  });

  it("loses less between rough shapes, which lie nearer than the padding by less than a cell", () => {
    const items = Array.from({ length: 40 }, (_, i) => box(0.1 + 0.07 * ((i * 5) % 7), 0.1 + 0.05 * ((i * 3) % 11)));
    const padding = 8 / 1024;
    const sound = told(items, { padding, effort: 0 }).at(-1)!;
    let rough: FoundLayout | null = null;
    searchRoughly(items, plain(items, { padding, effort: 0 }), nothing, (found) => {
      rough = found;
    });
    const { scale, placements } = rough!;
    expect(scale).toBeGreaterThan(sound.scale);
    const lie = items.map((item, i) => placedItem(item, placements[i]!));
    // A cell is a 512th of the page here.
    const lacks = missing(lie, page, padding);
    expect(lacks).toBeGreaterThan(0);
    expect(lacks).toBeLessThan(1 / 512);
  });

  it("takes nothing longer than the tile, however little it covers", () => {
    const { scale } = told([box(5, 1e-9)]).at(-1)!;
    expect(5 * scale).toBeLessThanOrEqual(1);
    expect(5 * scale).toBeGreaterThan(0.95);
  });

  it("lays what is wide into a wide page, and what is high into a high one", () => {
    for (const [w, h] of [
      [0.9, 0.2],
      [0.2, 0.9],
    ] as const) {
      const items = [box(9, 2), box(9, 2)];
      const { scale } = told(items, { page: { ...page, w, h }, effort: 0 }).at(-1)!;
      // Two bars fill a page of their form with one above the other, half as long as it is.
      expect(scale * 9).toBeGreaterThan(0.45 * 0.97);
    }
  });
});
