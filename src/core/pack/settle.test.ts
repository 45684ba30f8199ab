import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { at, box } from "../../testing/packing";
import { Kernels } from "../kernels/kernels";
import { Stopped } from "../layout/stopped";
import { type Page, type Placement, placedItem, STAYS, scaleOf } from "./page";
import { boundsOf, type Item } from "./raster";
import { type SettleOptions, Settling } from "./settle";
import { missing } from "./verify";

const page: Page = { u0: 0, v0: 0, w: 1, h: 1, texels: 1024 };
const PADDING = 4 / 1024;

const put = (scale: number, du: number, dv: number): Placement => ({ ...STAYS, xx: scale, yy: scale, du, dv });

/** Settles shells from where they lie. */
function settled(
  items: readonly Item[],
  start: readonly Placement[],
  more: Partial<SettleOptions> = {},
  look: (share: number) => void = () => {},
) {
  const told: number[] = [];
  const options: SettleOptions = {
    page,
    unit: 1,
    padding: PADDING,
    quarters: items.map(() => 4),
    free: false,
    work: 3e6,
    seed: 0,
    ...more,
  };
  const kernels = new Kernels(true);
  const { found, stopped } = new Settling(kernels, items, options, start, look, (scale) => told.push(scale)).run();
  const lie = found && items.map((item, i) => placedItem(item, found.placements[i]!));
  return { found, stopped, told, lie };
}

describe("settling", () => {
  it("makes two squares as large as they go beside each other in a page", () => {
    // The page holds nothing larger than twice a square and the padding along its diagonal, or its side where they lie beside.
    const wide = { ...page, h: 0.5 };
    const start = [put(0.3, 0.05, 0.1), put(0.3, 0.6, 0.1)];
    const { found, told, lie } = settled([box(1, 1), box(1, 1)], start, { page: wide, quarters: [1, 1] });
    const most = (1 - PADDING) / 2;
    expect(found!.scale).toBeLessThanOrEqual(most);
    expect(found!.scale).toBeGreaterThan(0.99 * most);
    expect(missing(lie!, wide, PADDING)).toBe(0);
    expect(told).toEqual([...told].sort((a, b) => a - b));
    expect(told.at(-1)).toBe(found!.scale);
  });

  it("ends a draft where pushing all apart together no longer does, and not before they are apart", () => {
    const items = Array.from({ length: 9 }, (_, i) => box(0.1 + 0.01 * i, 0.12));
    const start = items.map((_, i) => put(2, 0.02 + 0.3 * (i % 3), 0.02 + 0.27 * Math.floor(i / 3)));
    const asked: number[] = [];
    const draft = settled(items, start, { work: 1e8, draft: true }, (share) => asked.push(share));
    expect(missing(draft.lie!, page, PADDING)).toBe(0);
    // A hundredth of the work has to do.
    expect(Math.max(...asked)).toBeLessThan(0.01);
    expect(settled(items, start, { work: 1e7 }).found!.scale).toBeGreaterThan(draft.found!.scale);
    // All on one place: they come apart, on a larger page if need be.
    const heaped = settled(
      items,
      items.map(() => put(2, 0.4, 0.4)),
      { work: 1e8, draft: true },
    );
    expect(missing(heaped.lie!, page, PADDING)).toBe(0);
  });

  it("pushes apart what lies on each other, and keeps gaps, borders and turns", () => {
    const place = fc.double({ min: 0, max: 0.7, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(place, place), { minLength: 3, maxLength: 6 }), (places) => {
        const items = places.map((_, i) => box(0.1 + 0.02 * i, 0.15));
        const { found, lie } = settled(
          items,
          places.map(([u, v]) => put(1, u, v)),
          { fixed: 1, quarters: items.map(() => 1), work: 1e7 },
        );
        expect(found!.scale).toBeCloseTo(1, 9);
        expect(missing(lie!, page, PADDING)).toBe(0);
        for (const p of found!.placements) expect([p.xx, p.xy + 0, p.yx + 0, p.yy]).toEqual([1, 0, 0, 1]);
      }),
      { numRuns: 12 },
    );
  });

  it("makes what begins larger than is wanted as small as that, and no larger ever", () => {
    const start = [put(0.45, 0.01, 0.01), put(0.45, 0.51, 0.01)];
    const { found } = settled([box(1, 1), box(1, 1)], start, { fixed: 0.3 });
    expect(found!.scale).toBeCloseTo(0.3, 9);
    for (const p of found!.placements) expect(scaleOf(p)).toBeCloseTo(0.3, 6);
  });

  it("comes to the same for the same seed, and keeps what it had when it is stopped", () => {
    const items = [box(0.5, 0.2), box(0.3, 0.3), box(0.2, 0.6), box(0.4, 0.1)];
    const start = items.map((_, i) => put(0.5, 0.02 + 0.45 * (i % 2), 0.02 + 0.45 * (i >> 1)));
    const whole = settled(items, start, { seed: 3 });
    expect(settled(items, start, { seed: 3 }).found).toEqual(whole.found);
    let looks = 0;
    const half = settled(items, start, { seed: 3 }, (share) => {
      if (share > 0 && ++looks > 3) throw new Stopped("Stopped.");
    });
    expect(half.stopped).toBe(true);
    expect(half.found!.scale).toBeLessThanOrEqual(whole.found!.scale);
    expect(missing(half.lie!, page, PADDING)).toBe(0);
  });

  it("makes a square as large as it goes beside what stays, which does not grow with it", () => {
    const stays = at(box(0.5, 1), 0, 0);
    const { found, lie } = settled([box(1, 1)], [put(0.3, 0.6, 0.3)], {
      obstacles: [stays],
      quarters: [1],
      work: 3e7,
    });
    const most = 0.5 - PADDING;
    expect(found!.scale).toBeLessThanOrEqual(most);
    expect(found!.scale).toBeGreaterThan(0.99 * most);
    expect(missing(lie!, page, PADDING, [stays])).toBe(0);
  });

  it("keeps clear of what stays, however sharp it is, and of corners where there is no padding", () => {
    const spike = (u: number, v: number, wide: number): Item => ({
      triangles: Float64Array.of(u, v, u + wide, v, u + wide / 2, v + 0.5),
      outline: Float64Array.of(u, v, u + wide, v, u + wide, v, u + wide / 2, v + 0.5, u + wide / 2, v + 0.5, u, v),
    });
    const across = fc.double({ min: 0, max: 0.9, noNaN: true });
    const wide = fc.double({ min: 0.004, max: 0.1, noNaN: true });
    fc.assert(
      fc.property(fc.tuple(across, across, wide), fc.constantFrom(0, PADDING), ([a, b, w], padding) => {
        const sharp = padding ? [spike(a, 0, w), spike(b, -0.2, w)] : [at(box(w, 0.5), a, 0), at(box(w, 0.5), b, -0.2)];
        const stays = [...sharp, at(box(0.2, 0.05), b, 0.95)];
        const items = [box(0.3, 0.1), box(0.2, 0.2), box(0.1, 0.25)];
        const start = items.map((_, i) => put(0.5, 0.1 + 0.3 * i, 0.6));
        const { found, lie } = settled(items, start, { obstacles: stays, padding, work: 1e6 });
        expect(found!.scale).toBeGreaterThan(0.5);
        expect(missing(lie!, page, padding, stays)).toBe(0);
      }),
      { numRuns: 10, endOnFailure: true },
    );
  });

  it("turns what is longer than the page towards its diagonal where turns are free, and what may not turn not at all", () => {
    const bar = box(1, 0.02);
    const start = [put(0.97, 0.01, 0.5)];
    const across = settled([bar], start, { quarters: [4], free: false }).found!;
    expect(across.scale).toBeLessThanOrEqual(1);
    const free = settled([bar], start, { quarters: [4], free: true });
    expect(free.found!.scale).toBeGreaterThan(1.3);
    const { u0, v0, u1, v1 } = boundsOf(free.lie![0]!);
    expect(Math.min(u0, v0, 1 - u1, 1 - v1)).toBeGreaterThan(-1e-6);
    expect(settled([bar], start, { quarters: [2], free: true }).found!.scale).toBeLessThanOrEqual(1);
  });
});
