import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type Page, placedItem, STAYS } from "./page";
import { boundsOf, type Item } from "./raster";
import { beyond, missing, tooNear } from "./verify";

const box = (u: number, v: number, w: number, h: number): Item => ({
  triangles: Float64Array.of(u, v, u + w, v, u + w, v + h, u, v, u + w, v + h, u, v + h),
  outline: Float64Array.of(u, v, u + w, v, u + w, v, u + w, v + h, u + w, v + h, u, v + h, u, v + h, u, v),
});
/** A ring, whose hole is not of it. */
function ring(side: number, wide: number): Item {
  const [outer, inner] = [box(0, 0, side, side), box(wide, wide, side - 2 * wide, side - 2 * wide)];
  const sides = [
    box(0, 0, side, wide),
    box(0, side - wide, side, wide),
    box(0, wide, wide, side - 2 * wide),
    box(side - wide, wide, wide, side - 2 * wide),
  ];
  return {
    triangles: Float64Array.from(sides.flatMap((s) => [...s.triangles])),
    outline: Float64Array.of(...outer.outline, ...inner.outline),
  };
}
const page: Page = { u0: 0, v0: 0, w: 1, h: 1, texels: 1024 };

describe("what is missing between shells", () => {
  it("is nothing at the padding, what lacks below it, and without end where they overlap", () => {
    const at = (gap: number) => missing([box(0.1, 0.1, 0.2, 0.2), box(0.3 + gap, 0.1, 0.2, 0.2)], page, 0.02);
    expect(at(0.02)).toBe(0);
    expect(at(0.015)).toBeCloseTo(0.005, 12);
    expect(at(-0.01)).toBe(Infinity);
  });

  it("is nothing where borders touch and no padding is wanted, and without end where they lie along each other and overlap", () => {
    const at = (u: number) => missing([box(0.1, 0.1, 0.2, 0.2), box(u, 0.1, 0.2, 0.2)], page, 0);
    expect(at(0.1 + 0.2)).toBe(0);
    for (const u of [0.1, 0.15, 0.25, 0.29]) expect(at(u)).toBe(Infinity);
    expect(missing([box(0, 0, 0.4, 0.4), box(0.4, 0.1, 0.2, 0.2), box(0, 0.4, 0.4, 0.1)], page, 0)).toBe(0);
  });

  it("is told where one lies within another, and not where it lies in its hole", () => {
    const [plate, frame] = [box(0, 0, 0.8, 0.8), ring(0.8, 0.1)];
    const inside = box(0.3, 0.3, 0.1, 0.1);
    expect(missing([plate, inside], page, 0.01)).toBe(Infinity);
    expect(missing([frame, inside], page, 0.01)).toBe(0);
    expect(missing([frame, inside], page, 0.21)).toBeCloseTo(0.01, 12);
  });

  it("is what reaches beyond the page, but for rounding", () => {
    expect(beyond(box(0.9, 0, 0.1, 0.2), page)).toBe(0);
    expect(beyond(box(0.9, 0, 0.1 + 1e-12, 0.2), page)).toBe(0);
    expect(beyond(box(0.9, -0.05, 0.15, 0.2), page)).toBeCloseTo(0.05, 12);
    expect(missing([box(0.9, -0.05, 0.15, 0.2)], page, 0)).toBeCloseTo(0.05, 12);
  });

  it("is the distance of boxes, whichever way they lie, and is told once for none that stay", () => {
    const place = fc.double({ min: 0, max: 1, noNaN: true });
    const side = fc.double({ min: 0.01, max: 0.3, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(place, place, side, side), { minLength: 2, maxLength: 7 }), (list) => {
        const items = list.map(([u, v, w, h]) => box(u, v, w, h));
        const padding = 0.05;
        const told = new Map<string, number>();
        tooNear(items, 2, padding, (a, b, more) => {
          expect(a).toBeLessThan(b);
          const key = `${a} ${b}`;
          told.set(key, Math.max(told.get(key) ?? 0, more));
        });
        items.forEach((one, a) => {
          for (let b = a + 1; b < items.length; b++) {
            const [p, q] = [boundsOf(one), boundsOf(items[b]!)];
            const [du, dv] = [Math.max(p.u0 - q.u1, q.u0 - p.u1), Math.max(p.v0 - q.v1, q.v0 - p.v1)];
            const gap = Math.hypot(Math.max(0, du), Math.max(0, dv));
            const lacks = told.get(`${a} ${b}`);
            if (a >= 2 || gap > padding + 1e-9) expect(lacks).toBeUndefined();
            else if (du < -1e-9 && dv < -1e-9) expect(lacks).toBe(Infinity);
            else if (gap > 1e-9 && gap < padding - 1e-9) expect(lacks).toBeCloseTo(padding - gap, 9);
          }
        });
      }),
    );
  });

  it("is the same wherever all of them lie", () => {
    const shift = fc.double({ min: -50, max: 50, noNaN: true });
    fc.assert(
      fc.property(shift, shift, (du, dv) => {
        const items = [box(0.1, 0.1, 0.2, 0.2), box(0.31, 0.1, 0.2, 0.2)].map((item) =>
          placedItem(item, { ...STAYS, du, dv }),
        );
        expect(missing(items, { ...page, u0: du, v0: dv }, 0.02)).toBeCloseTo(0.01, 9);
      }),
    );
  });
});
