import { moveLeast } from "../src/core/pack/near";
import { packPage } from "../src/core/pack/pack-page";
import { areaOf, placedItem, STAYS } from "../src/core/pack/page";
import { boundsOf, type Item } from "../src/core/pack/raster";
import { setOf } from "./pack-sets";

// Seconds of a draft of many shells, laid by keys alone on coarse cells, and of packing again after one of them was changed.

const page = { u0: 4 / 2048, v0: 4 / 2048, w: 1 - 8 / 2048, h: 1 - 8 / 2048, texels: 2048 };
const packing = { page, unit: 1, padding: 8 / 2048, turns: "quarters", effort: 0, work: 0, seed: 0 } as const;
const since = (begun: number) => ((performance.now() - begun) / 1000).toFixed(2);

function drafted(count: number): Item[] {
  const items = setOf("organic", count, 7);
  const begun = performance.now();
  let first = "";
  const found = packPage(items, packing, undefined, () => {
    first ||= since(begun);
  })!;
  const lie = items.map((item, i) => placedItem(item, found.placements[i]!));
  process.stdout.write(
    `draft of ${count}: first ${first} s, all ${since(begun)} s, covers ${areaOf(lie).toFixed(3)}\n`,
  );
  return lie;
}

const asked = process.argv.slice(2).map(Number);
for (const count of asked.length ? asked : [30, 300, 1000]) {
  const lie = drafted(count);
  const { u0, v0, u1, v1 } = boundsOf(lie[0]!);
  // The smallest comes to lie in the middle of another.
  const small = lie.reduce((a, b) => (areaOf([b]) < areaOf([a]) ? b : a));
  const own = boundsOf(small);
  const changed = placedItem(small, { ...STAYS, du: (u0 + u1) / 2 - own.u0, dv: (v0 + v1) / 2 - own.v0 });
  const items = lie.map((item) => (item === small ? changed : item));
  const begun = performance.now();
  const moved = moveLeast(items, { page, padding: 8 / 2048, turns: "none" });
  const told = moved ? `${moved.filter((p) => p !== STAYS).length} moved` : "no room";
  process.stdout.write(`  one of them changed: ${since(begun)} s, ${told}\n`);
}
