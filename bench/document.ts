import { DocumentHost } from "../src/compute/host";
import { nodePool } from "../src/compute/node-pool";
import { encodeDelta } from "../src/core/formats/delta-bundle";
import { type Asset, shapesOf } from "../src/core/layout/asset";
import { withDelta } from "../src/core/layout/delta";
import { layoutFromCorners, structureOf } from "../src/core/layout/layout";
import { topologyOf } from "../src/core/mesh/topology";
import type { Scope } from "../src/core/operations/operation";
import { everything } from "../src/core/operations/scope";
import { assetOf, clothMesh } from "./cloth";
import { printGrowth, timed, trianglesOfSide } from "./growth-table";

// What an artist waits for, by the document's host as the page has it: an edit, figures after it, previews of a live
// move. At three sizes in one run: the growth is what holds on a noisy machine.

const SIDES = [70, 224, 707];
const STRIPS = 20;
const handle = { flag: null };

/** The cloth in triangles, laid out in strips: shells to move, with room between them. */
function strips(n: number): Asset {
  const mesh = clothMesh(n, 3);
  const uv = new Float64Array(2 * mesh.cornerVertex.length);
  const tall = Math.ceil(n / STRIPS);
  mesh.cornerVertex.forEach((v, c) => {
    const strip = Math.floor(Math.floor(c / 6 / n) / tall);
    uv[2 * c] = 0.9 * mesh.positions[3 * v]! + 0.05;
    uv[2 * c + 1] = 0.9 * mesh.positions[3 * v + 1]! + 0.002 * strip + 0.01;
  });
  return assetOf(mesh, layoutFromCorners(mesh, uv));
}

const pool = nodePool();

async function line(n: number): Promise<Record<string, number>> {
  const host = new DocumentHost(pool);
  const asset = strips(n);
  const { revision } = host.load(asset);
  const set = asset.sets[0]!.id;
  const [, whole] = await timed(() => host.measure(revision, set, "area"));

  const shape = shapesOf(asset)[0]!;
  const t = topologyOf(shape.mesh);
  const picked = (kind: "edges" | "shells", item: number): Scope => ({
    ...everything(asset),
    selection: { kind, items: new Map([[shape.id, Uint32Array.of(item)]]) },
  });
  /** The diagonal of a quad of the first row. */
  const diagonal = (quad: number) => t.cornerEdge[6 * quad + 2]!;
  // The first cut pays for compiling; the second is what an artist meets.
  const first = await host.edit(revision, "cut", {}, picked("edges", diagonal(10)), handle);
  const [cut, cutting] = await timed(() => host.edit(first.revision, "cut", {}, picked("edges", diagonal(20)), handle));
  await host.measure(cut.revision, set, "area");

  const layout = [...shape.layouts.values()][0]!;
  const name = structureOf(shape.mesh, layout).shellFaces[0]!;
  const still = { du: 0, dv: 0, turn: 0, scale: 1 };
  const live = await host.begin(cut.revision, "move", picked("shells", name));
  const measuring = host.measure(cut.revision, set, "angle").catch(() => {});
  let previews = 0;
  const until = performance.now() + 1000;
  while (performance.now() < until) {
    host.update(live, { ...still, du: 1e-4 * previews++ });
    await new Promise((resolve) => setImmediate(resolve));
  }
  await measuring;
  let moved = await host.commit(live, { ...still, du: 0.001 });
  const figures: number[] = [];
  for (let k = 0; k < 9; k++) {
    const [, time] = await timed(() => host.measure(moved.revision, set, "area"));
    figures.push(time);
    moved = await host.commit(await host.begin(moved.revision, "move", picked("shells", name)), { ...still, du: 1e-4 });
  }
  const bytes = encodeDelta(cut.delta, {}, {}, withDelta(asset, first.delta)).length;
  return {
    "all figures, ms": whole,
    "cut one edge, ms": cutting,
    "its delta over the wire, kB": bytes / 1000,
    "figures after the first move, ms": figures[0]!,
    "figures after a move, middle of eight, ms": figures.slice(1).sort((a, b) => a - b)[4]!,
    "previews a second, while measuring": previews,
  };
}

await line(SIDES[0]!); // compiling is not what is measured
const columns: Array<Record<string, number>> = [];
for (const n of SIDES) columns.push(await line(n));
printGrowth(SIDES.map(trianglesOfSide), columns, 1);
pool.dispose();
process.exit(0);
