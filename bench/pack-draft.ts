import { EFFORTS } from "../src/core/layout/pack-wishes";
import { Stopped } from "../src/core/layout/stopped";
import { moveLeast } from "../src/core/pack/near";
import { packJob } from "../src/core/pack/pack-job";
import { packPage } from "../src/core/pack/pack-page";
import { areaOf, placedItem, STAYS } from "../src/core/pack/page";
import { boundsOf, type Item } from "../src/core/pack/raster";
import before from "./pack-before.json";
import { KINDS, type Kind, setOf } from "./pack-sets";

// Seconds until a search shows a first layout, and how dense that is, beside what the first version of packing ended with
// (00efb09: pack-before.json holds figures taken from it on these shells, after 2.5 to 29 s); of packing again after one of
// its shells was changed, and of as many tiles as there are groups.

const page = { u0: 4 / 2048, v0: 4 / 2048, w: 1 - 8 / 2048, h: 1 - 8 / 2048, texels: 2048 };
const { effort, work } = EFFORTS.quick;
const packing = { page, unit: 1, padding: 8 / 2048, turns: "quarters", effort, work, seed: 0 } as const;
const since = (begun: number) => ((performance.now() - begun) / 1000).toFixed(2);

/** Seconds in which so many shells are to be drafted. */
const wantedFor = (count: number): number => (count <= 30 ? 0.2 : count <= 1000 ? 1 : 4);

/** What a quick search shows first, and what it has come to when a draft is to be there, or when it shows anything. */
function drafted(kind: Kind, count: number): Item[] {
  const items = setOf(kind, count, 7);
  const area = areaOf(items);
  const begun = performance.now();
  let first = "";
  const stop = () => {
    if (first && performance.now() - begun > 1000 * wantedFor(count)) throw new Stopped("Stopped.");
  };
  const found = packPage(items, packing, stop, (scale) => {
    first ||= `after ${since(begun)} s ${(area * scale * scale).toFixed(3)}`;
  })!;
  const lie = items.map((item, i) => placedItem(item, found.placements[i]!));
  const was = (before as Readonly<Record<string, Readonly<Record<Kind, number>>>>)[count]?.[kind];
  const beside = was ? `, ${(areaOf(lie) / was).toFixed(3)} of the first version's ${was}` : "";
  process.stdout.write(`${count} ${kind}: ${first}, after ${since(begun)} s ${areaOf(lie).toFixed(3)}${beside}\n`);
  return lie;
}

/** Groups of 50 shells, each into a tile of its own, at their sizes. */
async function inTiles(count: number): Promise<void> {
  const items = setOf("organic", count, 7);
  const groups = items.map((_, i) => Math.floor(i / 50));
  const pages = Array.from({ length: Math.ceil(count / 50) }, (_, k) => ({ ...page, u0: page.u0 + k }));
  const begun = performance.now();
  const job = { items, pages, groups, apart: "pages", resolution: 2048, padding: 8, turns: "quarters" } as const;
  const packed = await packJob({ ...job, effort: 0, work: 0, fixed: 0.072 }, async () => null, {
    step() {},
    best() {},
  });
  const told = packed ? `${new Set(packed.pages).size} tiles` : "they do not fit";
  process.stdout.write(`${count} shells in ${pages.length} groups: ${since(begun)} s, ${told}\n`);
}

/** One of some shells that lie on a page comes to lie elsewhere, and is packed again. */
function oneChanged(lie: readonly Item[]): void {
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

const asked = process.argv.slice(2).map(Number);
for (const count of asked.length ? asked : [30, 300, 1000]) {
  for (const kind of Object.keys(KINDS) as Kind[]) drafted(kind, count);
  oneChanged(drafted("organic", count));
}
await inTiles(5000);
