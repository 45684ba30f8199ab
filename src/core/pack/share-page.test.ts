import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Page } from "./page";
import { type Cut, cutsFor, sharedPage } from "./share-page";

const page: Page = { u0: 2, v0: 1, w: 3, h: 2, texels: 1024 };
const needs = fc.array(fc.double({ min: 0.1, max: 5, noNaN: true }), { minLength: 1, maxLength: 12 });

describe("a page shared out", () => {
  it("gives each what it needs, by its share, and overlaps nowhere, however it is cut", () => {
    fc.assert(
      fc.property(needs, fc.nat(), (list, number) => {
        const all = list.reduce((a, b) => a + b, 0);
        const cuts = cutsFor(list.length);
        const shares = sharedPage(page, list, cuts[number % cuts.length]!);
        for (const [i, { u0, v0, w, h }] of shares.entries()) {
          expect((w * h) / 6).toBeCloseTo(list[i]! / all, 9);
          expect(Math.min(u0 - 2, v0 - 1, 5 - u0 - w, 3 - v0 - h)).toBeGreaterThan(-1e-9);
        }
        for (const [i, a] of shares.entries())
          for (const b of shares.slice(i + 1)) {
            const across = Math.min(a.u0 + a.w, b.u0 + b.w) - Math.max(a.u0, b.u0);
            const up = Math.min(a.v0 + a.h, b.v0 + b.h) - Math.max(a.v0, b.v0);
            expect(Math.min(across, up)).toBeLessThan(1e-9);
          }
      }),
    );
  });

  it("is cut in rows or columns all the way, the largest first", () => {
    const rows = sharedPage(page, [1, 2, 1], "rows");
    expect(rows.map((r) => [r.w, r.h])).toEqual([
      [3, 0.5],
      [3, 1],
      [3, 0.5],
    ]);
    expect(rows[1]!.v0).toBe(2);
    const columns = sharedPage(page, [1, 2, 1], "columns");
    expect(columns.map((r) => [r.u0, r.w, r.h])).toEqual([
      [3.5, 0.75, 2],
      [2, 1.5, 2],
      [4.25, 0.75, 2],
    ]);
  });

  it("gives one a column or a row of its own, and halves the rest", () => {
    const [own, ...others] = sharedPage(page, [2, 1, 1, 2], { first: 0, across: true });
    expect(own).toMatchObject({ u0: 2, v0: 1, w: 1, h: 2 });
    expect(others.every((r) => r.u0 >= 3)).toBe(true);
    expect(sharedPage(page, [2, 1, 1, 2], { first: 0, across: false })[0]).toMatchObject({ u0: 2, w: 3, h: 2 / 3 });
  });

  it("is cut off one by one only where groups are few", () => {
    const alone = (cuts: readonly Cut[]) => cuts.filter((cut) => typeof cut === "object").length;
    expect([1, 2, 3, 8, 9].map((groups) => alone(cutsFor(groups)))).toEqual([0, 0, 6, 16, 0]);
  });
});
