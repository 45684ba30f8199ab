import { box } from "../demo/kit";
import { nodePool } from "../src/compute/node-pool";
import type { Asset } from "../src/core/layout/asset";
import { shapesOf, withLayouts } from "../src/core/layout/asset";
import { makeBits, setBit } from "../src/core/layout/bits";
import { emptyLayout, structureOf, withBits } from "../src/core/layout/layout";
import type { Edge } from "../src/core/mesh/indices";
import { meshFromPolygons } from "../src/core/mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../src/core/mesh/topology";
import { runEdit } from "../src/core/operations/run";
import { everything } from "../src/core/operations/scope";
import { seenFaces } from "../src/core/tasks/seen-faces";
import { assetOf, clothMesh } from "./cloth";
import { timed } from "./growth-table";

// Seconds of what large meshes ask of seams: the crease proposal, how openly every face is seen, and putting together what
// was cut to pieces. Each at a tenth of the size as well, so that growth can be read off one run.

const pool = nodePool(2);
const context = { progress: () => {}, pool: pool.runner(undefined) };

/** A crate of so many squares along each of its sides. */
function crate(n: number): Asset {
  const s = box([1, 1, 1], [n, n, n]);
  return assetOf(meshFromPolygons(s.points.flat(), s.faces));
}

/** A cloth of n x n squares, cut to pieces of m x m and laid flat. */
async function pieces(n: number, m: number): Promise<Asset> {
  const asset = assetOf(clothMesh(n));
  const [shape] = shapesOf(asset);
  const { mesh } = shape!;
  const t = topologyOf(mesh);
  const cut = makeBits(t.edgeCount);
  const piece = (face: number) => Math.floor(face / n / m) * n + Math.floor((face % n) / m);
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2) continue;
    const k = t.edgeCornerStart[e]!;
    if (piece(t.cornerFace[t.edgeCorners[k]!]!) !== piece(t.cornerFace[t.edgeCorners[k + 1]!]!)) setBit(cut, e);
  }
  const layout = withBits(mesh, emptyLayout(mesh), cut);
  const set = asset.sets[0]!.id;
  const marked = withLayouts(asset, [{ shape: shape!.id, set, layout }]);
  return (await runEdit(marked, "unfold", {}, everything(marked), context)).asset;
}
const shellsOf = (asset: Asset): number => {
  const [shape] = shapesOf(asset);
  return structureOf(shape!.mesh, shape!.layouts.get(asset.sets[0]!.id)!).shellCount;
};
const seconds = (ms: number): string => `${(ms / 1000).toFixed(2)} s`;
const growth = (small: number, large: number): string => `x ${(large / small).toFixed(1)} for ten times the size`;

const [small, large] = [crate(91), crate(289)];
const creased = async (asset: Asset) =>
  (await timed(() => runEdit(asset, "creased", {}, everything(asset), context)))[1];
const [a, b] = [await creased(small), await creased(large)];
process.stdout.write(`Creased, 1,002,252 triangles: ${seconds(b)}, ${growth(a, b)}\n`);

const seen = async (asset: Asset) => (await timed(() => seenFaces(asset, context, () => {})))[1];
const [c, d] = [await seen(small), await seen(large)];
process.stdout.write(`Openness of every face, 1,002,252 triangles: ${seconds(d)}, ${growth(c, d)}\n`);

for (const [n, m] of [
  [32, 5],
  [100, 5],
] as const) {
  const cut = await pieces(n, m);
  const [done, ms] = await timed(() => runEdit(cut, "assemble", {}, everything(cut), context));
  process.stdout.write(
    `Assemble, ${shellsOf(cut)} pieces of ${(2 * n * n).toLocaleString("en")} triangles: to ${shellsOf(done.asset)}, ${seconds(ms)}\n`,
  );
}
pool.dispose();
