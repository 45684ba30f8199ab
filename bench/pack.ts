import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { parseArgs } from "node:util";
import { MaxRectsPacker } from "maxrects-packer/dist/maxrects-packer.mjs";
import potpack from "potpack";
import { nodePool } from "../src/compute/node-pool";
import { EFFORTS, type Search, type Turns } from "../src/core/layout/pack-wishes";
import type { PackJob } from "../src/core/pack/job";
import { packJob } from "../src/core/pack/pack-job";
import { areaOf, placedItem } from "../src/core/pack/page";
import { boundsOf, type Item } from "../src/core/pack/raster";
import { missing } from "../src/core/pack/verify";
import { packSideBySide } from "../src/core/tasks/pack-side-by-side";
import { grownArea } from "./grown-area";
import { KINDS, type Kind, setOf } from "./pack-sets";

// Coverage of one tile, what of it shells fill when they are grown by half the padding, and seconds of packing shells made by
// seeds, padding 8 and border 4 at 2048; beside the boxes about them packed by two libraries, and the program that
// TAVLIN_PACK_PEER names (it takes in.obj and prints a line of JSON with its coverage): without it its columns are empty, and
// so is "then", what was covered against it by the time that it took. --check writes what was packed as OBJ files into a folder.

const { values: asked } = parseArgs({
  options: {
    counts: { type: "string", default: "12,30,100,300" },
    seeds: { type: "string", default: "7" },
    kinds: { type: "string", default: Object.keys(KINDS).join(",") },
    search: { type: "string", default: "thorough" },
    turns: { type: "string", default: "quarters" },
    workers: { type: "string", default: "2" },
    check: { type: "string" },
  },
});
const [PADDING, BORDER, SIDE] = [8, 4, 2048];
const peer = process.env.TAVLIN_PACK_PEER;
const pool = nodePool(Number(asked.workers));
const context = { progress: () => {}, pool: pool.runner(undefined) };

function jobOf(items: readonly Item[]): PackJob {
  const { effort, work } = EFFORTS[asked.search as Search];
  const border = BORDER / SIDE;
  const page = { u0: border, v0: border, w: 1 - 2 * border, h: 1 - 2 * border, texels: SIDE };
  const how = { resolution: SIDE, padding: PADDING, turns: asked.turns as Turns };
  return { ...how, items, pages: [page], effort, work };
}

/** Lines of an OBJ file of shells. */
function objOf(items: readonly Item[]): string {
  const lines: string[] = [];
  let count = 0;
  for (const { triangles: q } of items) {
    const known = new Map<string, number>();
    const numberOf = (i: number): number => {
      const key = `${q[i]} ${q[i + 1]}`;
      if (!known.has(key)) {
        lines.push(`v ${key} 0`, `vt ${key}`);
        known.set(key, ++count);
      }
      return known.get(key)!;
    };
    for (let i = 0; i < q.length; i += 6) {
      const corners = [0, 2, 4].map((k) => numberOf(i + k));
      lines.push(`f ${corners.map((k) => `${k}/${k}`).join(" ")}`);
    }
  }
  return lines.join("\n");
}

/** What another program covers with them, and in how many seconds. */
function peerCovers(items: readonly Item[]): { covers: number; seconds: number } | null {
  if (!peer) return null;
  const file = join(mkdtempSync(join(tmpdir(), "tavlin-bench-")), "in.obj");
  writeFileSync(file, objOf(items));
  const begun = performance.now();
  const said = execFileSync(peer, [file], { encoding: "utf8" });
  const { coverage } = JSON.parse(said.trim().split("\n").at(-1)!) as { coverage: number };
  return { covers: coverage, seconds: (performance.now() - begun) / 1000 };
}

/** The largest share of a square that the boxes about shells leave to them, packed by a library. */
function boxesCover(
  items: readonly Item[],
  fits: (sides: Array<readonly [number, number]>, side: number) => boolean,
): number {
  const sides = items.map((item) => {
    const { u0, v0, u1, v1 } = boundsOf(item);
    return [u1 - u0, v1 - v0] as const;
  });
  const area = areaOf(items);
  let [low, high] = [0, Math.sqrt(0.98 / area)];
  for (let k = 0; k < 24; k++) {
    const scale = (low + high) / 2;
    const grown = sides.map(([w, h]) => [w * scale + PADDING / SIDE, h * scale + PADDING / SIDE] as const);
    if (fits(grown, 1 + (PADDING - 2 * BORDER) / SIDE)) low = scale;
    else high = scale;
  }
  return area * low ** 2;
}

const byMaxRects = (items: readonly Item[]) =>
  boxesCover(items, (sides, side) => {
    if (sides.some(([w, h]) => Math.max(w, h) > side)) return false;
    const packer = new MaxRectsPacker(side * 1e4, side * 1e4, 0, {
      smart: false,
      pot: false,
      square: true,
      allowRotation: true,
    });
    packer.addArray(sides.map(([w, h]) => ({ width: w * 1e4, height: h * 1e4 })) as never);
    return packer.bins.length === 1;
  });

const byPotpack = (items: readonly Item[]) =>
  boxesCover(items, (sides, side) => {
    const { w, h } = potpack(sides.map(([a, b]) => ({ w: Math.max(a, b), h: Math.min(a, b), x: 0, y: 0 })));
    return w <= side && h <= side;
  });

const summary = (list: readonly number[]) =>
  `least ${Math.min(...list).toFixed(3)}, mean ${(list.reduce((a, b) => a + b, 0) / list.length).toFixed(3)}`;
const cell = (x: number | undefined, digits = 3) => (x === undefined ? "" : x.toFixed(digits)).padStart(8);
const list = (text: string) => text.split(",");
process.stdout.write(
  `${"kind".padEnd(13)}${"count".padStart(6)}${["covers", "filled", "first", "at s", "all s", "peer", "peer s", "then", "ratio", "maxrects", "potpack"].map((x) => x.padStart(9)).join("")}\n`,
);
// Workers are there before, as they are in the application: what it takes to begin them is not of packing.
await packJob({ ...jobOf(setOf("blobs", 4, 1)), effort: 0.1, work: 1e5 }, packSideBySide(context, pool.width), {
  step: () => {},
  best: () => {},
});
const ratios: number[] = [];
const early: number[] = [];
for (const kind of list(asked.kinds) as Kind[])
  for (const count of list(asked.counts).map(Number))
    for (const seed of list(asked.seeds).map(Number)) {
      const items = setOf(kind, count, seed);
      const job = jobOf(items);
      const begun = performance.now();
      const told: Array<{ covers: number; seconds: number }> = [];
      const best = (placements: Parameters<Parameters<typeof packJob>[2]["best"]>[0]) => {
        const lie = items.map((item, i) => placedItem(item, placements[i]!));
        told.push({ covers: areaOf(lie), seconds: (performance.now() - begun) / 1000 });
      };
      const { seeds } = EFFORTS[asked.search as Search];
      const found = (await packJob(job, packSideBySide(context, seeds), { step: () => {}, best }))!;
      const seconds = (performance.now() - begun) / 1000;
      const lie = items.map((item, i) => placedItem(item, found.placements[i]!));
      const lacks = missing(lie, job.pages[0]!, PADDING / SIDE);
      if (lacks > 0) throw new Error(`${kind} ${count} ${seed}: ${lacks * SIDE} px are missing of the padding.`);
      if (asked.check) writeFileSync(join(asked.check, `${kind.replace(" ", "-")}-${count}-${seed}.obj`), objOf(lie));
      const covers = areaOf(lie);
      const grown = lie.reduce((sum, item) => sum + grownArea(item, PADDING / 2 / SIDE), 0);
      const other = peerCovers(items);
      const boxes = [byMaxRects(items), byPotpack(items)];
      const bar = other && Math.max(other.covers, ...boxes);
      // What was told by the time that the other program takes.
      const then = told.findLast(({ seconds: s }) => s <= (other?.seconds ?? 0))?.covers ?? 0;
      if (bar) {
        ratios.push(covers / bar);
        early.push(then / bar);
      }
      process.stdout.write(
        `${kind.padEnd(13)}${String(count).padStart(6)}${[
          cell(covers),
          cell(grown),
          cell(told[0]?.covers),
          cell(told[0]?.seconds, 2),
          cell(seconds, 1),
          cell(other?.covers),
          cell(other?.seconds, 1),
          cell(bar ? then / bar : undefined),
          cell(bar ? covers / bar : undefined),
          ...boxes.map((x) => cell(x)),
        ]
          .map((x) => x.padStart(9))
          .join("")}\n`,
      );
    }
if (ratios.length)
  process.stdout.write(
    `against the best beside it: ${summary(ratios)}; in the time of the program beside it: ${summary(early)}\n`,
  );
process.exit(0);
