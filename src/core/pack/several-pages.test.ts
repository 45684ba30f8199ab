import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box, packHere, tile, unwatched } from "../../testing/packing";
import { Stopped } from "../layout/stopped";
import type { PackJob } from "./job";
import { type Placement, placedItem, scaleOf } from "./page";
import type { Item } from "./raster";
import { packPages } from "./several-pages";
import { missing } from "./verify";

const job = (items: readonly Item[], more: Partial<PackJob> = {}): PackJob => ({
  items,
  pages: [tile(0), tile(1)],
  resolution: 1024,
  padding: 4,
  turns: "quarters",
  effort: 0.52,
  work: 1e6,
  ...more,
});

/** That all lie well on their pages, at one density. */
function expectSound(
  how: PackJob,
  found: { placements: readonly Placement[]; pages: readonly number[] },
  scale: number,
) {
  how.pages.forEach((page, number) => {
    const own = how.items.flatMap((item, i) =>
      found.pages[i] === number ? [placedItem(item, found.placements[i]!)] : [],
    );
    expect(missing(own, page, how.padding / page.texels)).toBe(0);
  });
  found.placements.forEach((p, i) => {
    const { texels } = how.pages[found.pages[i]!]!;
    expect((scaleOf(p) * texels) / how.resolution / scale).toBeCloseTo(1, 6);
  });
}

describe("packing several pages", () => {
  it("shares shells out so that all pages come to one scale, larger than one page after another does", async () => {
    const items = Array.from({ length: 14 }, (_, i) => box(0.12 + 0.04 * ((i * 5) % 7), 0.14 + 0.05 * ((i * 3) % 6)));
    const how = job(items);
    const filled = (await packPages({ ...how, effort: 0 }, packHere, unwatched))!;
    const scales: number[] = [];
    const shares: number[] = [];
    const watch = {
      step: (share: number) => shares.push(share),
      best: (placements: readonly (Placement | null)[]) => scales.push(scaleOf(placements[0]!)),
    };
    const found = (await packPages(how, packHere, watch))!;
    expect(found.scale).toBeGreaterThan(1.02 * filled.scale);
    expectSound(how, found, found.scale);
    expect(scales.at(-1)).toBeCloseTo(found.scale, 9);
    expect(shares.every((share, k) => share >= 0 && share <= 1 && (!k || share >= shares[k - 1]! - 1e-9))).toBe(true);
  });

  it("gives the larger of two tiles more of them, at one density", async () => {
    const items = Array.from({ length: 20 }, () => box(0.2, 0.2));
    const how = job(items, { pages: [tile(0, 512), tile(1, 1024)], padding: 2 });
    const found = (await packPages(how, packHere, unwatched))!;
    expectSound(how, found, found.scale);
    // 4 of them by 16 fill both as well as they can be.
    expect(found.pages.filter((page) => page === 0)).toHaveLength(4);
    expect(found.scale).toBeGreaterThan(0.24 / 0.2);
  });

  it("keeps groups apart, whatever lies on their pages", async () => {
    const items = Array.from({ length: 9 }, (_, i) => box(0.1 + 0.03 * (i % 5), 0.2));
    const groups = items.map((_, i) => (i < 3 ? 1 : 0));
    const how = job(items, { groups, apart: "pages", pages: [tile(0), tile(1), tile(2)] });
    const found = (await packPages(how, packHere, unwatched))!;
    expectSound(how, found, found.scale);
    for (const page of [0, 1, 2])
      expect(new Set(groups.filter((_, i) => found.pages[i] === page)).size).toBeLessThan(2);
  });

  it("takes one page less where they can be packed onto that", async () => {
    // Four go round a page, each beside the end of the next; laid as low as they go, there is not room for so many.
    const items = Array.from({ length: 8 }, () => box(0.61, 0.37));
    const how = job(items, { pages: [0, 1, 2, 3].map((u) => tile(u)), fixed: 1, effort: 0 });
    const filled = (await packPages(how, packHere, unwatched))!;
    expect(new Set(filled.pages).size).toBeGreaterThan(2);
    const fewer = (await packPages({ ...how, effort: 0.52 }, packHere, unwatched))!;
    expect(new Set(fewer.pages).size).toBe(2);
    expectSound(how, fewer, 1);
    // What does not fit fewer stays as it was.
    const large = { ...how, items: Array.from({ length: 8 }, () => box(0.64, 0.37)) };
    const before = (await packPages(large, packHere, unwatched))!;
    const same = (await packPages({ ...large, effort: 0.52 }, packHere, unwatched))!;
    expect(same.pages).toEqual(before.pages);
    expectSound(large, same, 1);
  });

  it("keeps what it had come to when it is stopped, wherever that is", async () => {
    const items = Array.from({ length: 6 }, (_, i) => box(0.2 + 0.04 * i, 0.3));
    await fc.assert(
      fc.asyncProperty(fc.double({ min: 0.12, max: 0.95, noNaN: true }), async (at) => {
        let stopped = false;
        const step = (share: number) => {
          if (share <= at) return;
          stopped = true;
          throw new Stopped("Stopped.");
        };
        const how = job(items, { work: 2e5 });
        const found = (await packPages(how, packHere, { ...unwatched, step }))!;
        expect(found.stopped).toBe(stopped);
        expectSound(how, found, found.scale);
      }),
      { numRuns: 2, endOnFailure: true },
    );
  });
});
