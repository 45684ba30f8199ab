import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box, packHere, tile, unwatched } from "../../testing/packing";
import { Stopped } from "../layout/stopped";
import type { PackJob } from "./job";
import { packJob } from "./pack-job";
import { type Placement, placedItem, scaleOf } from "./page";
import { boundsOf, type Item } from "./raster";
import { missing } from "./verify";

/** Three-cornered: what is lost between boxes about these is much. */
const wedge = (w: number, h: number): Item => ({
  triangles: Float64Array.of(0, 0, w, 0, 0.3 * w, h),
  outline: Float64Array.of(0, 0, w, 0, w, 0, 0.3 * w, h, 0.3 * w, h, 0, 0),
});
const job = (items: readonly Item[], more: Partial<PackJob> = {}): PackJob => ({
  items,
  pages: [tile(0)],
  resolution: 1024,
  padding: 4,
  turns: "quarters",
  effort: 0,
  work: 0,
  ...more,
});

/** Packs, and checks that all lies well in its page. */
async function packed(how: PackJob) {
  const found = (await packJob(how, packHere, unwatched))!;
  const lie = how.items.map((item, i) => placedItem(item, found.placements[i]!));
  how.pages.forEach((page, number) => {
    const own = lie.filter((_, i) => found.pages[i] === number);
    expect(missing(own, page, how.padding / page.texels)).toBeLessThan(1e-9);
  });
  return { ...found, lie };
}

const SIDES = fc.array(
  fc.tuple(fc.double({ min: 0.1, max: 0.6, noNaN: true }), fc.double({ min: 0.1, max: 0.6, noNaN: true })),
  { minLength: 3, maxLength: 14 },
);

describe("packing a job", () => {
  it("takes as few tiles as hold shells of their sizes, and all of those that it is told when they fill them", async () => {
    const items = Array.from({ length: 9 }, () => box(0.45, 0.45));
    const pages = [0, 1, 2, 3, 4].map((u) => tile(u));
    const kept = await packed(job(items, { pages, fixed: 1 }));
    expect(new Set(kept.pages).size).toBe(3);
    const filled = await packed(job(items, { pages: pages.slice(0, 2) }));
    expect(filled.scale).toBeLessThan(1);
    expect(filled.scale).toBeGreaterThan(0.65);
    expect(await packJob(job(items, { pages: pages.slice(0, 2), fixed: 1 }), packHere, unwatched)).toBeNull();
  });

  it("keeps the density in tiles of other resolutions", async () => {
    const items = Array.from({ length: 6 }, () => box(0.45, 0.45));
    const found = await packed(job(items, { pages: [tile(0, 1024), tile(1, 2048)], fixed: 1 }));
    found.lie.forEach((item, i) => {
      const { u0, u1 } = boundsOf(item);
      expect((u1 - u0) * [1024, 2048][found.pages[i]!]!).toBeCloseTo(0.45 * 1024, 6);
    });
    expect(new Set(found.pages).size).toBe(2);
  });

  it("gives every group tiles of its own", async () => {
    const items = Array.from({ length: 12 }, (_, i) => box(0.2 + 0.01 * i, 0.2));
    const groups = items.map((_, i) => i % 2);
    const pages = [0, 1, 2].map((u) => tile(u));
    for (const fixed of [undefined, 0.5]) {
      const found = await packed(job(items, { pages, groups, apart: "pages", fixed }));
      found.pages.forEach((p, i) => {
        expect(p).toBe(groups[i]);
      });
    }
  });

  it("lays groups in rectangles that share the page and nothing else, all at one scale", async () => {
    await fc.assert(
      fc.asyncProperty(SIDES, fc.integer({ min: 2, max: 3 }), async (sides, count) => {
        const items = sides.map(([w, h]) => box(w, h));
        const groups = items.map((_, i) => i % count);
        const found = await packed(job(items, { groups, apart: "blocks" }));
        const blocks = found.blocks!;
        expect(blocks.reduce((sum, b) => sum + b.w * b.h, 0)).toBeCloseTo(1, 9);
        found.lie.forEach((item, i) => {
          const [{ u0, v0, u1, v1 }, b] = [boundsOf(item), blocks[groups[i]!]!];
          expect(Math.min(u0 - b.u0, v0 - b.v0, b.u0 + b.w - u1, b.v0 + b.h - v1)).toBeGreaterThan(-1e-9);
        });
      }),
      { numRuns: 3 },
    );
  });

  it("works at blocks as long as is wanted: denser ones come of it, all at one scale, and are told as they come", async () => {
    const items = Array.from({ length: 12 }, (_, i) => wedge(0.1 + 0.05 * ((i * 5) % 7), 0.1 + 0.04 * ((i * 3) % 8)));
    const groups = items.map((_, i) => i % 2);
    const scales: number[] = [];
    const best = (placements: readonly (Placement | null)[]) => scales.push(scaleOf(placements[0]!));
    const how = job(items, { groups, apart: "blocks", effort: 0.1, work: 1e6 });
    const found = (await packJob(how, packHere, { ...unwatched, best }))!;
    expect(found.scale).toBeGreaterThan(scales[0]!);
    expect(scales.at(-1)).toBeCloseTo(found.scale, 9);
    for (const p of found.placements) expect(scaleOf(p)).toBeCloseTo(found.scale, 9);
    expect(
      missing(
        items.map((item, i) => placedItem(item, found.placements[i]!)),
        tile(0),
        4 / 1024,
      ),
    ).toBe(0);
    // At the scale it came to they fit again.
    expect((await packJob({ ...how, fixed: found.scale }, packHere, unwatched))?.scale).toBe(found.scale);
  });

  it("keeps the blocks that it had when it is stopped", async () => {
    const items = Array.from({ length: 9 }, (_, i) => box(0.2 + 0.02 * i, 0.3));
    let told = 0;
    const step = () => {
      if (told) throw new Stopped("Stopped.");
    };
    const how = job(items, { groups: items.map((_, i) => i % 2), apart: "blocks", effort: 0.1, work: 1e6 });
    const found = await packJob(how, packHere, { step, best: () => void told++ });
    expect(told).toBe(1);
    expect(found!.stopped).toBe(true);
    expect(found!.placements.every(Boolean)).toBe(true);
  });

  it("keeps what several tiles had come to when it is stopped", async () => {
    const items = Array.from({ length: 9 }, () => box(0.45, 0.45));
    const step = (share: number) => {
      if (share > 0.5) throw new Stopped("Stopped.");
    };
    const found = await packJob(job(items, { pages: [tile(0), tile(1)] }), packHere, { ...unwatched, step });
    expect(found!.stopped).toBe(true);
    expect(found!.placements).toHaveLength(9);
  });
});
