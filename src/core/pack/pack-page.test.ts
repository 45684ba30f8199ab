import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { at, box } from "../../testing/packing";
import { coverageOf } from "../check/coverage";
import { leastGap } from "../check/gaps";
import { Stopped } from "../layout/stopped";
import { type PagePacking, packPage } from "./pack-page";
import { areaOf, type Placement, placedItem, STAYS, scaleOf } from "./page";
import { boundsOf, type Item } from "./raster";
import { missing } from "./verify";

/** A convex shell: points on an ellipse, as a fan. */
function oval(w: number, h: number, corners: number): Item {
  const p = Array.from(
    { length: corners },
    (_, i) => [w * Math.cos((2 * Math.PI * i) / corners), h * Math.sin((2 * Math.PI * i) / corners)] as const,
  );
  const triangles: number[] = [];
  for (let i = 1; i + 1 < corners; i++) triangles.push(...p[0]!, ...p[i]!, ...p[i + 1]!);
  const outline = p.flatMap((a, i) => [...a, ...p[(i + 1) % corners]!]);
  return { triangles: Float64Array.from(triangles), outline: Float64Array.from(outline) };
}

const RESOLUTION = 1024;
const inTile = (margin: number) => ({
  u0: margin / RESOLUTION,
  v0: margin / RESOLUTION,
  w: 1 - (2 * margin) / RESOLUTION,
  h: 1 - (2 * margin) / RESOLUTION,
  texels: RESOLUTION,
});
const packing = (padding: number, more: Partial<PagePacking> = {}): PagePacking => ({
  page: inTile(padding),
  unit: 1,
  padding: padding / RESOLUTION,
  turns: "quarters",
  effort: 0.1,
  work: 2e6,
  seed: 0,
  ...more,
});

/** Packs, and measures what came of it by other means than those it is packed by. */
function packed(items: readonly Item[], how: PagePacking) {
  const found = packPage(items, how)!;
  const lie = items.map((item, i) => placedItem(item, found.placements[i]!));
  const all = [...lie, ...(how.obstacles ?? [])];
  const outline = Float64Array.from(all.flatMap((item) => [...item.outline]));
  const owner = Uint32Array.from(
    all.flatMap(({ outline: o }, i) => Array.from({ length: o.length / 4 }, () => Math.min(i, lie.length))),
  );
  const gap = leastGap(outline, owner, 1 / RESOLUTION);
  if (gap !== null) expect(gap).toBeGreaterThanOrEqual(how.padding * (1 - 1e-6));
  for (const item of lie) {
    const { u0, v0, u1, v1 } = boundsOf(item);
    expect(Math.min(u0 - how.page.u0, v0 - how.page.v0)).toBeGreaterThanOrEqual(-1e-9);
    expect(Math.max(u1 - how.page.u0 - how.page.w, v1 - how.page.v0 - how.page.h)).toBeLessThanOrEqual(1e-9);
  }
  const covered = coverageOf(Float64Array.from(lie.flatMap((item) => [...item.triangles])));
  return { found, lie, covered };
}

const OVALS = fc.array(
  fc.tuple(
    fc.double({ min: 0.05, max: 1, noNaN: true }),
    fc.double({ min: 0.05, max: 1, noNaN: true }),
    fc.integer({ min: 3, max: 9 }),
  ),
  { minLength: 1, maxLength: 12 },
);

describe("packing a page", () => {
  it("keeps every gap, whatever the shells, however they are turned, and overlaps nothing", () => {
    fc.assert(
      fc.property(
        OVALS,
        fc.constantFrom(0, 3, 8, 20),
        fc.constantFrom("none" as const, "halves" as const, "quarters" as const, "steps" as const, "free" as const),
        fc.boolean(),
        (list, padding, turns, mirrored) => {
          const items = list.map(([w, h, n]) => oval(w, h, n));
          const { covered, found } = packed(items, packing(padding, { turns, mirrored, step: 30, effort: 0 }));
          expect(covered.overlapShare).toBe(0);
          for (const p of found.placements) {
            expect(scaleOf(p)).toBeCloseTo(found.scale, 9);
            if (turns === "none") expect(Math.abs(p.xy) + Math.abs(p.yx)).toBe(0);
            if (!mirrored) expect(p.xx * p.yy - p.xy * p.yx).toBeGreaterThan(0);
          }
        },
      ),
      { numRuns: 8 },
    );
  });

  it("comes to the same for the same seed, and by settling never to less", () => {
    const items = Array.from({ length: 9 }, (_, i) => oval(0.2 + 0.06 * i, 0.5 - 0.03 * i, 7));
    const settled = packing(8, { effort: 0, work: 2e7 });
    const one = packPage(items, settled);
    expect(packPage(items, settled)).toEqual(one);
    const unsettled = packPage(items, packing(8, { effort: 0, work: 0 }))!;
    expect(one!.scale).toBeGreaterThan(unsettled.scale);
  });

  it("shows a draft first in which nothing is lost between shells, and can be stopped there", () => {
    const items = Array.from({ length: 80 }, (_, i) => oval(0.5 + 0.1 * (i % 5), 0.3 + 0.1 * (i % 3), 16));
    const sound = packed(items, packing(4, { effort: 0, work: 0 })).found;
    let first = 0;
    const stop = () => {
      if (first) throw new Stopped("Stopped.");
    };
    const found = packPage(items, packing(4), stop, (scale) => {
      first ||= scale;
    })!;
    expect(found).toMatchObject({ stopped: true });
    expect(first).toBeGreaterThan(1.01 * sound.scale);
    expect(found.scale).toBeGreaterThanOrEqual(first);
    const lie = items.map((item, i) => placedItem(item, found.placements[i]!));
    expect(missing(lie, inTile(4), 4 / RESOLUTION)).toBe(0);
  });

  it("answers what it began to settle with where that is the denser", () => {
    fc.assert(
      fc.property(OVALS, (list) => {
        const items = list.map(([w, h, n]) => oval(w, h, n));
        const unsettled = packPage(items, packing(8, { effort: 0, work: 0 }))!.scale;
        expect(packPage(items, packing(8, { effort: 0, work: 1e5 }))!.scale).toBeGreaterThanOrEqual(unsettled);
      }),
      { numRuns: 5 },
    );
  });

  it("turns by any angle where that is free, and never what stands", () => {
    const items = Array.from({ length: 8 }, (_, i) => ({ ...oval(0.2 + 0.05 * i, 0.3, 6), stands: i % 2 === 0 }));
    const { found } = packed(items, packing(4, { turns: "free", work: 1e7 }));
    const leans = ({ xx, yx }: Placement) => Math.min(Math.abs(xx), Math.abs(yx)) > 1e-6;
    found.placements.forEach((p, i) => {
      if (i % 2 === 0) expect([Math.abs(p.xy) + Math.abs(p.yx), p.xx > 0]).toEqual([0, true]);
    });
    expect(found.placements.filter((_, i) => i % 2).some(leans)).toBe(true);
  });

  it("turns what is longer than the page towards its diagonal, where that is free", () => {
    const items = [box(4, 0.1), box(0.3, 0.2), box(0.2, 0.3)];
    const across = packed(items, packing(4)).found.scale;
    expect(4 * across).toBeLessThanOrEqual(1);
    const how = packing(4, { turns: "free", work: 2e7 });
    expect(4 * packed(items, how).found.scale).toBeGreaterThan(1.1);
  });

  it("fills most of the tile with squares that fit it", () => {
    const { covered } = packed(Array(9).fill(box(1, 1)), packing(2, { effort: 0.2, work: 2e7 }));
    expect(covered.coverage!).toBeGreaterThan(0.95);
  });

  it("puts small shells into the hollow of a large one", () => {
    // A frame, 1 outside and 0.8 inside: squares of 0.3 fit inside it and nowhere else at this size.
    const tile = (u0: number, v0: number, u1: number, v1: number) => [u0, v0, u1, v0, u1, v1, u0, v0, u1, v1, u0, v1];
    const ring = (a: number, b: number) => [a, a, b, a, b, a, b, b, b, b, a, b, a, b, a, a];
    const frame: Item = {
      triangles: Float64Array.from([
        ...tile(0, 0, 1, 0.1),
        ...tile(0, 0.9, 1, 1),
        ...tile(0, 0.1, 0.1, 0.9),
        ...tile(0.9, 0.1, 1, 0.9),
      ]),
      outline: Float64Array.from([...ring(0, 1), ...ring(0.1, 0.9)]),
    };
    const small = box(0.3, 0.3);
    const { found } = packed([frame, small, small, small, small], packing(2));
    expect(found.scale).toBeGreaterThan(0.97);
  });

  it("keeps clear of what stays, wherever that lies, and finds no place where nothing is left", () => {
    const place = fc.double({ min: -0.2, max: 1.2, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(place, place), { minLength: 1, maxLength: 4 }), (places) => {
        const obstacles = places.map(([u, v], k) => at(oval(0.08 + 0.05 * k, 0.12, 7), u, v));
        packed(
          Array.from({ length: 6 }, (_, i) => oval(0.1 + 0.02 * i, 0.2, 5 + i)),
          packing(8, { obstacles, effort: 0, work: 2e5 }),
        );
      }),
      { numRuns: 5 },
    );
    expect(packPage([oval(0.1, 0.1, 5)], packing(8, { obstacles: [at(box(3, 3), -1, -1)] }))).toBeNull();
  });

  it("never leaves a plot, whatever its shape", () => {
    fc.assert(
      fc.property(
        OVALS,
        fc.tuple(fc.double({ min: -2, max: 2, noNaN: true }), fc.double({ min: -2, max: 2, noNaN: true })),
        fc.tuple(fc.double({ min: 0.05, max: 1, noNaN: true }), fc.double({ min: 0.05, max: 1, noNaN: true })),
        (list, [u0, v0], [w, h]) => {
          const page = { u0, v0, w, h, texels: RESOLUTION };
          packed(
            list.map(([a, b, n]) => oval(a, b, n)),
            packing(2, { page, effort: 0 }),
          );
        },
      ),
      { numRuns: 10 },
    );
  });

  it("packs at one scale where that is wanted, and tells where it is not to be had", () => {
    const items = Array.from({ length: 9 }, (_, i) => oval(0.15 + 0.03 * i, 0.3 - 0.02 * i, 5 + i));
    const most = packPage(items, packing(8, { effort: 0.3 }))!.scale;
    const { found } = packed(items, packing(8, { fixed: 0.95 * most, effort: 0.3 }));
    expect(found.scale).toBeCloseTo(0.95 * most, 12);
    expect(packPage(items, packing(8, { fixed: 1.2 * most }))).toBeNull();
  });

  it("never makes shells larger than is wanted, where settling could", () => {
    const items = Array.from({ length: 24 }, (_, i) => oval(1 + ((i * 5) % 7) / 5, 0.6 + ((i * 3) % 5) / 6, 9));
    const draft = packPage(items, packing(6, { effort: 0, work: 0 }))!.scale;
    const all = packed(items, packing(6, { work: 5e6 })).found.scale;
    expect(all).toBeGreaterThan(1.02 * draft);
    // More than a draft comes to, and less than can be had.
    for (const fixed of [1.01 * draft, 0.99 * all]) {
      const { found } = packed(items, packing(6, { work: 5e6, fixed }));
      expect(found.scale / fixed).toBeCloseTo(1, 6);
      for (const p of found.placements) expect(scaleOf(p) / fixed).toBeCloseTo(1, 6);
    }
  });

  it("goes on from where shells lie, and only ever to denser", () => {
    const items = Array.from({ length: 8 }, (_, i) => oval(0.2 + 0.04 * i, 0.3, 6));
    const first = packPage(items, packing(8, { work: 0 }))!;
    const lie = items.map((item, i) => placedItem(item, first.placements[i]!));
    const { found } = packed(lie, packing(8, { start: lie.map(() => STAYS), work: 3e7 }));
    expect(found.scale).toBeGreaterThan(1);
    const apart: Placement[] = lie.map((_, i) => ({ ...STAYS, du: i }));
    expect(packPage(lie, packing(8, { start: apart, work: 1e5 }))).toBeNull();
  });

  it("keeps what it had found when it is stopped, also while it settles, or ends with nothing", () => {
    const items = Array.from({ length: 9 }, (_, i) => oval(0.2 + 0.06 * i, 0.5 - 0.03 * i, 7));
    const stoppedAt = (share: number) =>
      packPage(items, packing(8), (done) => {
        if (done >= share) throw new Stopped("Stopped.");
      })!;
    for (const share of [0.3, 0.6]) {
      const early = stoppedAt(share);
      expect(early.stopped).toBe(true);
      const lie = items.map((item, i) => placedItem(item, early.placements[i]!));
      expect(missing(lie, inTile(8), 8 / RESOLUTION)).toBe(0);
      expect(areaOf(lie)).toBeGreaterThan(0.5);
    }
    expect(() => stoppedAt(0)).toThrow(Stopped);
  });

  it("says so when nothing can fit", () => {
    expect(packPage(Array(40).fill(oval(1, 1, 4)), packing(500, { page: inTile(0), work: 0 }))).toBeNull();
  });
});

describe("what is missing of the padding", () => {
  const page = inTile(0);
  it("is told exactly, and is none where shells touch without padding", () => {
    const two = [at(box(0.2, 0.2), 0.1, 0.1), at(box(0.2, 0.2), 0.3, 0.1)];
    expect(missing(two, page, 0)).toBe(0);
    expect(missing(two, page, 0.01)).toBeCloseTo(0.01, 12);
    const apart = [two[0]!, at(box(0.2, 0.2), 0.306, 0.1)];
    expect(missing(apart, page, 0.01)).toBeCloseTo(0.004, 9);
    expect(missing(apart, page, 0.0055)).toBe(0);
  });
  it("is beyond measure where one lies over or within another, and told of the page's border", () => {
    expect(missing([at(box(0.5, 0.5), 0.1, 0.1), at(box(0.1, 0.1), 0.3, 0.3)], page, 0)).toBe(Infinity);
    expect(missing([at(box(0.5, 0.1), 0.1, 0.3), at(box(0.1, 0.5), 0.3, 0.1)], page, 0)).toBe(Infinity);
    expect(missing([at(box(0.5, 0.5), 0.6, 0.1)], page, 0)).toBeCloseTo(0.1, 12);
  });
  it("is nothing to what stays where it stays", () => {
    const over = [at(box(0.5, 0.5), 0.1, 0.1), at(box(0.5, 0.5), 0.2, 0.2)];
    expect(missing([], page, 0, over)).toBe(0);
    expect(missing([at(box(0.1, 0.1), 0.8, 0.8)], page, 0, over)).toBe(0);
  });
});
