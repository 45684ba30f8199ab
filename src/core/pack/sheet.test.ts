import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box } from "../../testing/packing";
import { withKernels } from "../kernels/kernels";
import type { FoundLayout, Page } from "./page";
import { placedItem } from "./page";
import { type LayOptions, type Sheet, type SheetOptions, sheetOf } from "./sheet";
import { missing } from "./verify";
import { waysOf } from "./ways";

const PADDING = 8 / 1024;
const items = [box(0.4, 0.25), box(0.3, 0.3), box(0.2, 0.1), box(0.5, 0.05)];
const pages: Page[] = [
  { u0: 0, v0: 0, w: 1, h: 1, texels: 1024 },
  { u0: 0.1, v0: 0.2, w: 0.8, h: 0.5, texels: 1024 },
  { u0: 0, v0: 0, w: 0.3, h: 0.9, texels: 1024 },
];

function on<T>(page: Page, how: Partial<SheetOptions & LayOptions>, act: (sheet: Sheet) => T): T {
  const ways = items.map((item) => waysOf(item, { turns: "none" }));
  const { rough, ...more } = how;
  const options = { page, unit: 1, padding: PADDING, ways, ...more };
  return withKernels((kernels) => act(sheetOf(kernels, items, options, { cells: 256, close: false, rough }, () => {})));
}
/** All of them one beside and above another, at a scale or the next smaller one. */
const lowest = (sheet: Sheet, scale: number): { found: FoundLayout; fits: boolean } =>
  sheet.at(scale, ({ grid, shapes, longest, rows, found }) => {
    grid.clear(longest);
    const places = shapes.map((turns) => grid.put(turns, grid.rows)!);
    return { found: found(places), fits: places.every(({ end }) => end <= rows) };
  });

describe.each(pages)("a page of $w x $h as cells", (page) => {
  const scales = fc.double({ min: 0.2, max: 0.55, noNaN: true });

  it("has shells at the scale that is asked for, or at one that is smaller by less than a cell, and larger than another", () => {
    on(page, {}, (sheet) =>
      fc.assert(
        fc.property(scales, scales, (asked, other) => {
          const [above, scale] = asked < other ? [asked, other] : [other, asked];
          const own = sheet.at(scale, (laying) => laying.scale);
          expect(own).toBeLessThanOrEqual(scale * (1 + 1e-6));
          expect(own).toBeGreaterThan(scale * (1 - 1 / 200));
          if (above < scale) expect(sheet.at(scale, (laying) => laying.scale, above)).toBeGreaterThan(above);
        }),
        { numRuns: 30 },
      ),
    );
  });

  it("keeps every gap of sound shapes, at whatever scale, and loses less than a cell of rough ones", () => {
    for (const rough of [undefined, 0.3])
      on(page, { rough }, (sheet) =>
        fc.assert(
          fc.property(scales, (scale) => {
            const { found, fits } = lowest(sheet, scale);
            if (!fits) return;
            const lie = items.map((item, i) => placedItem(item, found.placements[i]!));
            const lacks = missing(lie, page, PADDING);
            if (rough === undefined) expect(lacks).toBe(0);
            else expect(lacks).toBeLessThan(Math.max(page.w, page.h) / 200);
          }),
          { numRuns: 30 },
        ),
      );
  });

  it("tells what was laid at one scale as it was, when shapes were made anew for another", () => {
    for (const rough of [undefined, 0.3])
      on(page, { rough }, (sheet) => {
        sheet.at(0.25, ({ grid, shapes, longest, found }) => {
          grid.clear(longest);
          const places = shapes.map((turns) => grid.put(turns, grid.rows)!);
          const before = found(places);
          sheet.refine(0.4);
          sheet.at(0.4, () => {});
          expect(found(places)).toEqual(before);
        });
      });
  });

  it("has the one scale that is wanted exactly", () => {
    on(page, { fixed: 0.23 }, (sheet) => {
      expect(sheet.most).toBe(0.23);
      expect(sheet.at(0.23, (laying) => laying.scale)).toBe(0.23);
    });
  });
});
