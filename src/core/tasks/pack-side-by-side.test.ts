import { expect, it } from "vitest";
import { at, box, tile, unwatched } from "../../testing/packing";
import { Stopped } from "../layout/stopped";
import type { PagePacking } from "../pack/pack-page";
import { STAYS } from "../pack/page";
import { packSideBySide } from "./pack-side-by-side";
import type { TaskRunner } from "./task-runner";

const packing: PagePacking = {
  page: tile(0),
  unit: 1,
  padding: 1 / 1024,
  turns: "none",
  effort: 0.1,
  work: 0,
  seed: 5,
};

type Search = Pick<PagePacking, "seed" | "work" | "repacked" | "start">;

/** The searches that are run for so many shells, each of which comes to another scale, and what is taken. */
async function searched(shells: number, wished: number, more: Partial<PagePacking> = {}, scaleOf = scaleBySeed) {
  const searches: Search[] = [];
  const run = async (_: string, input: { packing: PagePacking }) => {
    const { seed, work, repacked, start } = input.packing;
    searches.push({ seed, work, ...(repacked === undefined ? {} : { repacked }), ...(start ? { start } : {}) });
    const scale = scaleOf(input.packing);
    return scale ? { scale, placements: [{ ...STAYS, du: scale }], stopped: false } : null;
  };
  const context = { progress: () => {}, pool: { width: 1, run } as unknown as TaskRunner };
  const items = Array.from({ length: shells }, (_, i) => at(box(0.01, 0.01), 0.02 * i, 0));
  const shares: number[] = [];
  const watch = { ...unwatched, step: (share: number) => shares.push(share) };
  const found = await packSideBySide(context, wished)(items, { ...packing, ...more }, watch);
  return { searches, seeds: searches.map(({ seed }) => seed), scale: found?.scale, shares };
}
const scaleBySeed = ({ seed }: PagePacking): number => (seed === 6 ? 2 : 1);

it("takes the densest of as many searches as are wished, of seeds that follow each other", async () => {
  const { seeds, scale } = await searched(30, 3);
  expect({ seeds, scale }).toEqual({ seeds: [5, 6, 7], scale: 2 });
});

it("searches less often for many shells, but twice where that is wished, and once for a draft", async () => {
  const counts = [180, 400, 1000, 5000].map(async (shells) => (await searched(shells, 12)).seeds.length);
  expect(await Promise.all(counts)).toEqual([6, 3, 2, 2]);
  expect((await searched(5000, 1)).seeds).toEqual([5]);
  expect((await searched(30, 12, { effort: 0 })).seeds).toEqual([5]);
});

it("begins many searches, goes on with the best, and settles the best of these for long", async () => {
  const { searches, scale, shares } = await searched(30, 12, { work: 100 });
  expect(searches).toEqual([
    ...Array.from({ length: 12 }, (_, k) => ({ seed: 5 + k, work: 5, repacked: 0.15 })),
    ...[6, 5, 7].map((seed) => ({ seed, work: 100, repacked: 1 })),
    { seed: 6, work: 1000, repacked: 1, start: [{ ...STAYS, du: 2 }] },
    { seed: 5, work: 1000, repacked: 1, start: [{ ...STAYS, du: 1 }] },
  ]);
  expect(scale).toBe(2);
  expect(shares).toEqual(shares.toSorted((a, b) => a - b));
  expect(shares.at(-1)).toBeCloseTo(1, 12);
});

it("repacks the best of more shells for long", async () => {
  const { searches } = await searched(100, 12, { work: 100 });
  expect(searches.slice(12)).toEqual([
    ...[6, 5, 7].map((seed) => ({ seed, work: 100, repacked: 1 })),
    ...[6, 5].map((seed) => ({ seed, work: 100, repacked: 8 })),
  ]);
});

it("goes on from where shells lie by settling alone", async () => {
  const start = [{ ...STAYS, du: 5 }];
  const { searches } = await searched(100, 12, { start, work: 100 });
  expect(searches.map(({ work }) => work)).toEqual([100, 100, 100, 1000, 1000]);
  expect(searches.slice(0, 3).every((search) => search.start === start)).toBe(true);
});

it("ends where the only scale that is wanted is found", async () => {
  expect((await searched(30, 12, { fixed: 1 })).seeds.length).toBe(12);
  const late = await searched(30, 12, { fixed: 1 }, ({ repacked, seed }) => (!repacked && seed === 7 ? 1 : 0));
  expect(late).toMatchObject({ scale: 1, seeds: [5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 5, 6, 7] });
  expect((await searched(30, 12, { fixed: 1 }, () => 0)).scale).toBeUndefined();
});

it("keeps what it had when it is stopped, and begins nothing more", async () => {
  const seeds: number[] = [];
  const run = async (_: string, input: { packing: PagePacking }) => {
    seeds.push(input.packing.seed);
    return { scale: input.packing.seed, placements: [], stopped: input.packing.seed === 7 };
  };
  const context = {
    progress: () => {},
    check: () => {
      if (seeds.length === 3) throw new Stopped("Stopped.");
    },
    pool: { width: 1, run } as unknown as TaskRunner,
  };
  const items = Array.from({ length: 30 }, (_, i) => at(box(0.01, 0.01), 0.02 * i, 0));
  expect(await packSideBySide(context, 12)(items, packing, unwatched)).toMatchObject({ scale: 7, stopped: true });
  expect(seeds).toEqual([5, 6, 7]);
});
