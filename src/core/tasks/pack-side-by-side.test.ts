import { expect, it } from "vitest";
import { at, box, tile, unwatched } from "../../testing/packing";
import type { PagePacking } from "../pack/pack-page";
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

/** The seeds of the searches that are run for so many shells, each of which comes to another scale. */
async function searched(shells: number, wished: number, effort = 0.1) {
  const seeds: number[] = [];
  const run = async (_: string, input: { packing: PagePacking }) => {
    seeds.push(input.packing.seed);
    return { scale: input.packing.seed === 6 ? 2 : 1, placements: [], stopped: false };
  };
  const context = { progress: () => {}, pool: { width: 1, run } as unknown as TaskRunner };
  const items = Array.from({ length: shells }, (_, i) => at(box(0.01, 0.01), 0.02 * i, 0));
  const found = await packSideBySide(context, wished)(items, { ...packing, effort }, unwatched);
  return { seeds, scale: found!.scale };
}

it("takes the densest of as many searches as are wished, of seeds that follow each other", async () => {
  expect(await searched(30, 3)).toEqual({ seeds: [5, 6, 7], scale: 2 });
});

it("searches less often for many shells, but twice where that is wished, and once for a draft", async () => {
  const counts = [100, 150, 300, 1000, 5000].map(async (shells) => (await searched(shells, 12)).seeds.length);
  expect(await Promise.all(counts)).toEqual([12, 12, 6, 2, 2]);
  expect((await searched(5000, 1)).seeds).toEqual([5]);
  expect((await searched(30, 12, 0)).seeds).toEqual([5]);
});
