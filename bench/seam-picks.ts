import { readFileSync } from "node:fs";
import { basename } from "node:path";
import { readAsset } from "../src/core/formats/read-asset";
import { type PlacedShape, shapesOf } from "../src/core/layout/asset";
import { getBit } from "../src/core/layout/bits";
import type { Edge } from "../src/core/mesh/indices";
import { edgeLoop } from "../src/core/mesh/loops";
import { edgeFaceCount, topologyOf } from "../src/core/mesh/topology";
import { draft } from "../src/core/operations/draft";
import { joinDoubled } from "../src/core/operations/prepare/join-doubled";
import { clearSet } from "../src/core/operations/registry";
import { runEdit } from "../src/core/operations/run";
import { everything, layoutOf } from "../src/core/operations/scope";
import { PATH_WAYS, type PathsFrom, type PathWay, pathsFrom } from "../src/core/seams/path-ways";

// How many picks the seams of a layout take: of everything that could be done next, always what brings the most of them and
// nothing else. By clicks, loops and shortest paths alone, and with loops past triangles and the thread in its four ways.
// Seams are those that Draft proposes; files are named on the command line.

interface Means {
  /** Degrees by which loops may turn where they go on past triangles; 0 for loops of quads alone. */
  readonly bend: number;
  readonly ways: readonly PathWay[];
}
const BEFORE: Means = { bend: 0, ways: ["shortest"] };
const NOW: Means = { bend: 60, ways: PATH_WAYS };

/** Of a path's edges those that are still wanted; null where one of them is no seam. */
function worth(edges: Iterable<number>, wanted: Uint8Array, left: Set<number>): number[] | null {
  const out: number[] = [];
  for (const e of edges) {
    if (!wanted[e]) return null;
    if (left.has(e)) out.push(e);
  }
  return out;
}

/** The longest path of seams from a vertex, by some way; and where it ends. */
function bestPath(paths: PathsFrom, ends: Iterable<number>, wanted: Uint8Array, left: Set<number>) {
  let best: { gain: number[]; end: number } | null = null;
  for (const end of ends) {
    const links = paths.linksTo(end);
    const gain = links && worth(links, wanted, left);
    if (gain && gain.length > (best?.gain.length ?? 1)) best = { gain, end };
  }
  return best;
}

function picksNeeded(shape: PlacedShape, wanted: Uint8Array, seen: Float32Array, { bend, ways }: Means): number {
  const { edgeVertices } = topologyOf(shape.mesh);
  const left = new Set<number>([...wanted.keys()].filter((e) => wanted[e]));
  let picks = 0;
  let at: number | null = null;
  const take = (gain: Iterable<number>, end: number) => {
    for (const e of gain) left.delete(e);
    at = end;
    picks++;
  };
  while (left.size) {
    const next = left.values().next().value as Edge;
    // Loops through a sample of what is left; the longest that is all seam.
    let loop: number[] = [];
    let k = 0;
    for (const e of left) {
      if (k++ % Math.ceil(left.size / 40)) continue;
      const gain = worth(edgeLoop(shape.mesh, e as Edge, (bend * Math.PI) / 180), wanted, left);
      if (gain && gain.length > loop.length) loop = gain;
    }
    const ends = new Set<number>();
    for (const e of left) ends.add(edgeVertices[2 * e]!).add(edgeVertices[2 * e + 1]!);
    const from = at ?? edgeVertices[2 * next]!;
    const found = ways
      .map((way) => bestPath(pathsFrom(shape, way, from, seen), ends, wanted, left))
      .reduce((a, b) => ((b?.gain.length ?? 0) > (a?.gain.length ?? 0) ? b : a), null);
    if (loop.length > 1 && loop.length >= (found?.gain.length ?? 0)) take(loop, edgeVertices[2 * loop[0]!]!);
    else if (found && at !== null) take(found.gain, found.end);
    // A path begins with a click that says where.
    else take([next], edgeVertices[2 * next + 1]!);
  }
  return picks;
}

for (const file of process.argv.slice(2)) {
  const asset = await readAsset(readFileSync(file), { name: basename(file) });
  const quiet = { progress: () => {} };
  // Loose triangles are joined first, as a person would.
  const whole = await runEdit(asset, joinDoubled.id, {}, everything(asset), quiet).then(
    (r) => r.asset,
    () => asset,
  );
  const bare = await runEdit(whole, clearSet.id, {}, everything(whole), quiet).then(
    (r) => r.asset,
    () => whole,
  );
  const { asset: drafted } = await runEdit(bare, draft.id, {}, everything(bare), quiet);
  const set = drafted.sets[0]!.id;
  let [before, now, seams] = [0, 0, 0];
  for (const shape of shapesOf(drafted)) {
    const t = topologyOf(shape.mesh);
    const { cut } = layoutOf(shape, set);
    const wanted = Uint8Array.from({ length: t.edgeCount }, (_, e) =>
      getBit(cut, e) && edgeFaceCount(t, e as Edge) > 1 ? 1 : 0,
    );
    const seen = new Float32Array(shape.mesh.faceStart.length - 1).fill(1);
    seams += wanted.reduce((n, on) => n + on, 0);
    before += picksNeeded(shape, wanted, seen, BEFORE);
    now += picksNeeded(shape, wanted, seen, NOW);
  }
  console.log(
    `${basename(file)}: ${seams} edges of seam, ${before} picks by clicks, loops and shortest paths, ${now} now`,
  );
}
process.exit(0);
