import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { at, box, packHere, tile, unwatched } from "../../testing/packing";
import { Stopped } from "../layout/stopped";
import { packGroups } from "./block-pages";
import type { Packed, PackJob } from "./job";
import { type Placement, placedItem, scaleOf } from "./page";
import { boundsOf, type Item } from "./raster";
import { missing } from "./verify";

const job = (items: readonly Item[], groups: readonly number[], more: Partial<PackJob> = {}): PackJob => ({
  items,
  groups,
  apart: "blocks",
  pages: [tile(0)],
  resolution: 1024,
  padding: 4,
  turns: "quarters",
  effort: 0,
  work: 0,
  ...more,
});

/** That blocks do not overlap, each lies on one page, and all shells of a group lie in its own; at one density. */
function expectBlocks(how: PackJob, found: Packed): void {
  const lie = how.items.map((item, i) => placedItem(item, found.placements[i]!));
  lie.forEach((item, i) => {
    const [{ u0, v0, u1, v1 }, b] = [boundsOf(item), found.blocks![how.groups![i]!]!];
    expect(Math.min(u0 - b.u0, v0 - b.v0, b.u0 + b.w - u1, b.v0 + b.h - v1)).toBeGreaterThan(-1e-9);
    expect((scaleOf(found.placements[i]!) * b.texels) / how.resolution / found.scale).toBeCloseTo(1, 9);
  });
  how.pages.forEach((page, number) => {
    const own = lie.filter((_, i) => found.pages[i] === number);
    expect(missing(own, page, how.padding / page.texels, how.obstacles)).toBeLessThan(1e-9);
  });
  found.blocks!.forEach((a, i) => {
    for (const b of found.blocks!.slice(i + 1)) {
      const [across, up] = [
        Math.min(a.u0 + a.w, b.u0 + b.w) - Math.max(a.u0, b.u0),
        Math.min(a.v0 + a.h, b.v0 + b.h) - Math.max(a.v0, b.v0),
      ];
      expect(Math.min(across, up)).toBeLessThan(1e-9);
    }
  });
}
const some = (count: number, side = 0.2): Item[] =>
  Array.from({ length: count }, (_, i) => box(side * (1 + 0.1 * (i % 5)), side));

describe("blocks on several pages", () => {
  it("gives every page some of the groups, by its room, and all of them one density", async () => {
    // Five alike groups: the tile of four times the texels takes four of them.
    const items = some(15);
    const how = job(
      items,
      items.map((_, i) => i % 5),
      { pages: [tile(0, 512), tile(1, 1024)], padding: 2 },
    );
    const found = (await packGroups(how, packHere, unwatched))!;
    expectBlocks(how, found);
    const onFirst = new Set(how.groups!.filter((_, i) => found.pages[i] === 0));
    expect(onFirst.size).toBe(1);
  });

  it("comes to more with more work, and tells what it has come to as it comes", async () => {
    const items = some(9, 0.25);
    const groups = items.map((_, i) => i % 3);
    const how = job(items, groups, { pages: [tile(0), tile(1)] });
    const drafted = (await packGroups(how, packHere, unwatched))!;
    const told: number[] = [];
    const best = (p: readonly (Placement | null)[]) => told.push(scaleOf(p[0]!));
    const found = (await packGroups({ ...how, effort: 0.1, work: 3e5 }, packHere, { ...unwatched, best }))!;
    expectBlocks(how, drafted);
    expectBlocks(how, found);
    expect(told[0]).toBeCloseTo(drafted.scale, 9);
    expect(told.at(-1)).toBeCloseTo(found.scale, 9);
    expect(found.scale).toBeGreaterThanOrEqual(drafted.scale);
  });

  it("takes as few tiles as hold groups of their sizes, and none where even all do not", async () => {
    const items = some(9, 0.38);
    const groups = items.map((_, i) => i % 3);
    const how = job(items, groups, { pages: [0, 1, 2, 3].map((u) => tile(u)), fixed: 1 });
    const found = (await packGroups(how, packHere, unwatched))!;
    expectBlocks(how, found);
    expect(found.scale).toBe(1);
    expect(new Set(found.pages).size).toBe(3);
    expect(await packGroups({ ...how, pages: how.pages.slice(0, 2) }, packHere, unwatched)).toBeNull();
    const small = { ...how, fixed: 0.4 };
    expect(new Set((await packGroups(small, packHere, unwatched))!.pages).size).toBe(1);
  });

  it("gives the first tiles the groups that are worth most, where that is told", async () => {
    const items = some(8);
    const groups = items.map((_, i) => i % 4);
    const worth = groups.map((g) => [1, 4, 2, 3][g]!);
    const how = job(items, groups, { pages: [tile(0), tile(1)], worth });
    const found = (await packGroups(how, packHere, unwatched))!;
    expectBlocks(how, found);
    expect(groups.filter((_, i) => found.pages[i] === 0).every((g) => g === 1 || g === 3)).toBe(true);
    expect(new Set(found.pages).size).toBe(2);
  });

  it("keeps what it had come to when it is stopped", async () => {
    const items = some(8);
    let told = 0;
    const step = () => {
      if (told) throw new Stopped("Stopped.");
    };
    const how = job(
      items,
      items.map((_, i) => i % 4),
      { pages: [tile(0), tile(1)], effort: 0.1, work: 3e5 },
    );
    const found = (await packGroups(how, packHere, { step, best: () => void told++ }))!;
    expect(found.stopped).toBe(true);
    expectBlocks(how, found);
  });
});

describe("blocks where something stays", () => {
  it("lie in the largest rectangle that is left, all of it", async () => {
    const items = some(8);
    const stays = at(box(0.4, 1), 0, 0);
    const how = job(
      items,
      items.map((_, i) => i % 2),
      { obstacles: [stays] },
    );
    const found = (await packGroups(how, packHere, unwatched))!;
    expectBlocks(how, found);
    const area = found.blocks!.reduce((sum, b) => sum + b.w * b.h, 0);
    expect(area).toBeLessThanOrEqual(0.6 - 4 / 1024);
    // A column of cells more or less.
    expect(area).toBeGreaterThan(0.6 - 4 / 1024 - 2 / 256);
  });

  it("keep the padding to what stays just beyond the page as well", async () => {
    const items = some(6);
    const groups = items.map((_, i) => i % 2);
    const beyond = at(box(1, 1), 1 + 1 / 1024, 0);
    const how = job(items, groups, { obstacles: [beyond] });
    const found = (await packGroups(how, packHere, unwatched))!;
    expectBlocks(how, found);
    const right = Math.max(...found.blocks!.map((b) => b.u0 + b.w));
    expect(right).toBeLessThanOrEqual(1 - 3 / 1024 + 1e-12);
    expect(right).toBeGreaterThan(1 - 3 / 1024 - 2 / 256);
  });

  it("keep clear of it, wherever it lies, and there are none where nothing is left", async () => {
    const place = fc.double({ min: -0.1, max: 1, noNaN: true });
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(place, place), { minLength: 1, maxLength: 4 }), async (places) => {
        const items = some(6, 0.05);
        const obstacles = places.map(([u, v]) => at(box(0.15, 0.1), u, v));
        const how = job(
          items,
          items.map((_, i) => i % 2),
          { obstacles },
        );
        expectBlocks(how, (await packGroups(how, packHere, unwatched))!);
      }),
      { numRuns: 4 },
    );
    const all = job(some(4), [0, 1, 0, 1], { obstacles: [at(box(3, 3), -1, -1)] });
    expect(await packGroups(all, packHere, unwatched)).toBeNull();
  });
});
