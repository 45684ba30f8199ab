import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box } from "../../testing/packing";
import { searchBoxes } from "./box-search";
import type { OrderOptions } from "./order-search";
import type { FoundLayout } from "./page";
import { areaOf, placedItem, scaleOf } from "./page";
import { boundsOf, type Item } from "./raster";
import { missing } from "./verify";
import { waysOf } from "./ways";

const page = { u0: 2 / 1024, v0: 2 / 1024, w: 1020 / 1024, h: 1020 / 1024, texels: 1024 };
const plain = (items: readonly Item[], more: Partial<OrderOptions> = {}): OrderOptions => ({
  page,
  unit: 1,
  padding: 4 / 1024,
  ways: items.map((item) => waysOf(item, { turns: "quarters" })),
  effort: 1,
  ...more,
});

/** The last that was told. */
function packed(items: readonly Item[], options: OrderOptions, known = 0): FoundLayout | null {
  let last: FoundLayout | null = null;
  const best = (found: FoundLayout) => {
    expect(found.scale).toBeGreaterThan(last?.scale ?? 0);
    last = found;
  };
  searchBoxes(items, options, known, () => {}, best);
  return last;
}

/** Boxes that fill the page exactly with the padding between them, in columns of rows. */
const cutPage = (columns: readonly number[], rows: readonly (readonly number[])[]): Item[] => {
  const [w, h] = [page.w + 4 / 1024, page.h + 4 / 1024];
  return columns.flatMap((x, i) => rows[i]!.map((y) => box(w * x - 4 / 1024, h * y - 4 / 1024)));
};

describe("boxes packed as boxes", () => {
  it("fill a page that was cut into them", () => {
    const alike = cutPage(Array(4).fill(1 / 4), Array(4).fill(Array(5).fill(1 / 5)));
    const all = [
      alike,
      cutPage(
        [0.37, 0.2, 0.43],
        [
          [0.5, 0.3, 0.2],
          [0.25, 0.75],
          [0.1, 0.33, 0.57],
        ],
      ),
    ];
    for (const items of all) {
      const { scale } = packed(items, plain(items))!;
      expect(scale ** 2).toBeGreaterThan(0.98);
      expect(scale).toBeLessThanOrEqual(1 + 1e-9);
    }
  });

  it("are not looked for where another way came to a scale at which they have no room", () => {
    const items = cutPage([1 / 2, 1 / 2], [[1], [1]]);
    let looked = 0;
    const look = (known: number) => {
      looked = 0;
      searchBoxes(
        items,
        plain(items),
        known,
        () => looked++,
        () => {},
      );
      return looked > 0;
    };
    expect([0, 0.999, 1.001].map(look)).toEqual([true, true, false]);
  });

  it("keep their padding, the page's border, clear of what stays, and turn only where they may", () => {
    const side = fc.double({ min: 0.05, max: 1, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(side, side), { minLength: 1, maxLength: 9 }), fc.boolean(), (sides, turn) => {
        const items = sides.map(([w, h]) => box(w, h));
        const obstacles = [placedItem(box(0.3, 0.2), { xx: 1, xy: 0, yx: 0, yy: 1, du: 0.5, dv: 0.4 })];
        const ways = items.map((item) => waysOf(item, { turns: turn ? "quarters" : "halves" }));
        const { scale, placements } = packed(items, plain(items, { obstacles, ways, effort: 0.02 }))!;
        const lie = items.map((item, i) => placedItem(item, placements[i]!));
        expect(missing(lie, page, 4 / 1024, obstacles)).toBe(0);
        lie.forEach((item, i) => {
          expect(scaleOf(placements[i]!)).toBeCloseTo(scale, 12);
          if (!turn) expect(boundsOf(item).u1 - boundsOf(item).u0).toBeCloseTo(scale * sides[i]![0], 12);
        });
      }),
      { numRuns: 40 },
    );
  });

  it("have the size that is wanted, or no place", () => {
    const items = [box(0.6, 0.5), box(0.6, 0.4)];
    expect(packed(items, plain(items, { fixed: 1 }))!.scale).toBe(1);
    expect(packed(items, plain(items, { fixed: 1.2 }))).toBeNull();
  });

  it("are given up where outlines come to much more", () => {
    const items = Array.from({ length: 7 }, (_, i) => box(0.2 + 0.07 * ((7 * i) % 5), 0.15 + 0.06 * ((3 * i) % 7)));
    const short = packed(items, plain(items), Math.sqrt(0.95 / areaOf(items)))!.scale;
    expect(packed(items, plain(items))!.scale).toBeGreaterThan(short);
    expect(areaOf(items) * short ** 2).toBeGreaterThan(0.7);
  });
});
