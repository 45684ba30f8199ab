import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box } from "../../testing/packing";
import { type FillOptions, fillPages } from "./fill-pages";
import { type Page, placedItem, scaleOf } from "./page";
import type { Item } from "./raster";
import { missing } from "./verify";
import { waysOf } from "./ways";

const page = (k: number, more: Partial<Page> = {}): Page => ({ u0: k, v0: 0, w: 1, h: 1, texels: 1024, ...more });

/** Fills pages with shells at their own size, and looks that all gaps are kept. */
function filled(items: readonly Item[], pages: readonly Page[], more: Partial<FillOptions> = {}) {
  const ways = items.map((item) => waysOf(item, { turns: "quarters" }));
  const laid: number[] = [];
  const options = { ways, units: pages.map(() => 1), padding: 4, scale: 1, ...more };
  const found = fillPages(items, pages, options, (count) => laid.push(count));
  if (!found) return null;
  pages.forEach((own, number) => {
    const here = items.flatMap((item, i) =>
      found.pages[i] === number ? [placedItem(item, found.placements[i]!)] : [],
    );
    expect(missing([...here], own, 4 / own.texels)).toBe(0);
  });
  expect(laid).toEqual(items.map((_, i) => i + 1));
  return found;
}

describe("filling one page after another", () => {
  it("puts four squares on each, and tells where the pages do not hold them", () => {
    const squares = Array.from({ length: 10 }, () => box(0.48, 0.48));
    const found = filled(squares, [page(0), page(1), page(2)])!;
    expect([0, 1, 2].map((k) => found.pages.filter((own) => own === k).length)).toEqual([4, 4, 2]);
    expect(filled(squares, [page(0), page(1)])).toBeNull();
    expect(filled([box(1.1, 0.1)], [page(0), page(1)])).toBeNull();
  });

  it("keeps every gap, every size and every shell, whatever these are", () => {
    const side = fc.double({ min: 0.02, max: 0.6, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(side, side), { minLength: 1, maxLength: 14 }), (sizes) => {
        const items = sizes.map(([w, h]) => box(w, h));
        const found = filled(
          items,
          items.map((_, k) => page(k)),
        )!;
        for (const placement of found.placements) expect(scaleOf(placement)).toBeCloseTo(1, 12);
      }),
      { numRuns: 12 },
    );
  });

  it("begins a page of its own for each group, in the order of their numbers", () => {
    const items = [0.2, 0.3, 0.2, 0.3, 0.25].map((side) => box(side, side));
    const found = filled(items, [page(0), page(1), page(2)], { groups: [2, 0, 1, 0, 2] })!;
    expect(found.pages).toEqual([2, 0, 1, 0, 2]);
    expect(filled(items, [page(0), page(1)], { groups: [2, 0, 1, 0, 2] })).toBeNull();
  });

  it("lays those first that are worth most, whatever their size", () => {
    const items = [0.7, 0.6, 0.55, 0.65].map((side) => box(side, side));
    const found = filled(
      items,
      [0, 1, 2, 3].map((k) => page(k)),
      { worth: [1, 2, 1, 4] },
    )!;
    expect(found.pages).toEqual([2, 1, 3, 0]);
    // Of groups, those that any of them is in.
    const pages = [0, 1, 2].map((k) => page(k));
    const small = [0.2, 0.3, 0.2, 0.3].map((side) => box(side, side));
    expect(filled(small, pages, { groups: [0, 1, 2, 2], worth: [1, 3, 1, 2] })!.pages).toEqual([2, 0, 1, 1]);
  });

  it("takes a unit of each page for itself, and keeps clear of what stays", () => {
    const items = [box(0.9, 0.9), box(0.9, 0.9)];
    const found = filled(items, [page(0), page(1, { texels: 512 })], { units: [1, 0.5] })!;
    expect(found.placements.map(scaleOf).map((scale) => +scale.toFixed(9))).toEqual([1, 0.5]);
    const stays = placedItem(box(1, 0.5), { xx: 1, xy: 0, yx: 0, yy: 1, du: 0, dv: 0 });
    const beside = filled([box(0.9, 0.45)], [page(0)], { obstacles: [stays] })!;
    expect(missing([placedItem(box(0.9, 0.45), beside.placements[0]!), stays], page(0), 4 / 1024)).toBe(0);
    expect(filled([box(0.9, 0.55)], [page(0)], { obstacles: [stays] })).toBeNull();
  });
});
