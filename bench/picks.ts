import { shapesOf } from "../src/core/layout/asset";
import { layoutFromCorners } from "../src/core/layout/layout";
import { newAsset } from "../src/core/layout/new-asset";
import type { Edge, Face } from "../src/core/mesh/indices";
import { branchesOf, loopRun } from "../src/core/mesh/loops";
import { faceCount, meshFromPolygons, type PolyMesh } from "../src/core/mesh/poly-mesh";
import { stripBetween, stripsThrough } from "../src/core/mesh/strips";
import { topologyOf } from "../src/core/mesh/topology";
import { edgeRing, vertexGraph } from "../src/core/mesh/walks";
import { pickSimilar } from "../src/core/operations/registry";
import { runSelect } from "../src/core/operations/run";
import { everything } from "../src/core/operations/scope";
import { PATH_WAYS, pathsFrom } from "../src/core/seams/path-ways";
import { converted } from "../src/core/select/convert";
import { groupsOf } from "../src/core/select/groups";
import { grown, shrunk } from "../src/core/select/grow";
import { symmetryOf } from "../src/core/transfer/symmetry";
import { symmetryByConnectivity } from "../src/core/transfer/symmetry-by-connectivity";
import { assetOf } from "./cloth";
import { printGrowth, timed, trianglesOfSide } from "./growth-table";

// What picks cost in the core, from a few thousand quads to half a million (a million triangles), in one run: walks,
// growing, paths with their preview, symmetry, parts alike.

/** Quads along a side. */
const SIDES = [70, 224, 707];
const ROUNDS = 9;

/** A cloth of quads with folds in it, the same on both sides of its middle. */
function foldedCloth(n: number): PolyMesh {
  const points = new Float64Array(3 * (n + 1) * (n + 1));
  for (let j = 0; j <= n; j++)
    for (let i = 0; i <= n; i++) {
      const x = (2 * i) / n - 1;
      points.set([x, j / n, 0.1 * Math.cos(9 * x) * Math.sin((7 * j) / n)], 3 * (j * (n + 1) + i));
    }
  const faces: number[][] = [];
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i;
      faces.push([a, a + 1, a + n + 2, a + n + 1]);
    }
  return meshFromPolygons([...points], faces);
}

/** Of several rounds the middle one, in milliseconds. */
async function middle(act: (round: number) => unknown, rounds = ROUNDS): Promise<number> {
  const times: number[] = [];
  for (let k = 0; k < rounds; k++) times.push((await timed(() => act(k)))[1]);
  return times.sort((a, b) => a - b)[rounds >> 1]!;
}

async function walkTimes(mesh: PolyMesh, n: number) {
  const t = topologyOf(mesh);
  const middleEdge = (k: number) => ((t.edgeCount >> 1) + 7 * k) as Edge;
  const face = (k: number) => ((faceCount(mesh) >> 1) + (n >> 1) + k) as Face;
  const flags = new Uint8Array(t.edgeCount);
  for (const e of loopRun(mesh, middleEdge(0)).edges.slice(0, n >> 1)) flags[e] = 1;
  return {
    "a loop": await middle((k) => loopRun(mesh, middleEdge(k))),
    "a ring": await middle((k) => edgeRing(mesh, middleEdge(k))),
    "a strip through a face": await middle((k) => stripsThrough(mesh, face(k))),
    "a strip between two faces": await middle((k) => stripBetween(mesh, face(k), face(k + n * (n >> 2)))),
    "the branches of half a loop": await middle(() => branchesOf(mesh, flags)),
  };
}

async function regionTimes(mesh: PolyMesh, n: number) {
  const layout = layoutFromCorners(
    mesh,
    new Float64Array(2 * mesh.cornerVertex.length).map((_, i) => (i % 97) / 97),
  );
  const faces = new Uint8Array(faceCount(mesh));
  // A patch of a quarter of all, in the middle.
  for (let f = 0; f < faces.length; f++) {
    const [i, j] = [f % n, Math.floor(f / n)];
    if (4 * i > n && 4 * i < 3 * n && 4 * j > n && 4 * j < 3 * n) faces[f] = 1;
  }
  const edges = converted(mesh, layout, "faces", faces, "edges", "touching");
  return {
    "grow faces": await middle(() => grown(mesh, layout, "faces", faces)),
    "grow edges": await middle(() => grown(mesh, layout, "edges", edges)),
    "shrink faces": await middle(() => shrunk(mesh, layout, "faces", faces)),
    "convert faces to edges, touching": await middle(() =>
      converted(mesh, layout, "faces", faces, "edges", "touching"),
    ),
    "convert edges to faces, contained": await middle(() =>
      converted(mesh, layout, "edges", edges, "faces", "contained"),
    ),
    "groups of faces": await middle(() => groupsOf(mesh, "faces", faces)),
  };
}

/** Paths from a corner: the first to the corner across, which grows the search over all; then previews as the pointer moves. */
async function pathTimes(mesh: PolyMesh, n: number) {
  const shape = shapesOf(assetOf(mesh))[0]!;
  const seen = new Float32Array(faceCount(mesh)).map((_, f) => (f % 5) / 5);
  const last = (n + 1) * (n + 1) - 1;
  vertexGraph(mesh);
  const out: Record<string, number> = {};
  for (const way of PATH_WAYS) {
    const [paths, begun] = await timed(() => pathsFrom(shape, way, 0, seen));
    // From a stop to the vertices around it, as far as a thread is laid at a time.
    const near = await middle((k) => paths.linksTo((n >> 4) * (n + 1) + (n >> 4) + k));
    const [, across] = await timed(() => paths.linksTo(last));
    const moving = await middle((k) => paths.linksTo(last - 1 - k));
    out[`path, ${way}: begun`] = begun;
    out[`path, ${way}: preview nearby`] = near;
    out[`path, ${way}: first to the far corner`] = across;
    out[`path, ${way}: preview there`] = moving;
    // While the pointer is on its way the host searches ahead, by so many steps at a time.
    const ahead = pathsFrom(shape, way, 0, seen);
    const [, all] = await timed(() => {
      while (ahead.goOn(20_000));
    });
    const [, known] = await timed(() => ahead.linksTo(last));
    out[`path, ${way}: all of it, ahead`] = all;
    out[`path, ${way}: to the far corner after that`] = known;
  }
  return out;
}

async function line(n: number): Promise<Record<string, number>> {
  const mesh = foldedCloth(n);
  topologyOf(mesh);
  vertexGraph(mesh);
  return { ...(await walkTimes(mesh, n)), ...(await regionTimes(mesh, n)), ...(await pathTimes(mesh, n)) };
}

/** A part of 200,000 faces: its mirror images, by position and by connectivity. */
async function symmetryTimes(): Promise<void> {
  const mesh = foldedCloth(448);
  topologyOf(mesh);
  const [byPlace, place] = await timed(() => symmetryOf(mesh, 0));
  const [byLinks, links] = await timed(() => symmetryByConnectivity(mesh, 0));
  const found = (faces: Int32Array) => faces.reduce((sum, f) => sum + (f >= 0 ? 1 : 0), 0);
  console.log(
    `symmetry of ${faceCount(mesh)} faces: by position ${place.toFixed(0)} ms (${found(byPlace.face)} have an image), ` +
      `by connectivity ${links.toFixed(0)} ms (${found(byLinks.face)})`,
  );
}

/** Parts alike among 2,000, of a hundred shapes; each has a mesh of its own. */
async function similarTimes(): Promise<void> {
  const parts = Array.from({ length: 2000 }, (_, i) => {
    const { positions, ...rest } = foldedCloth(10 + (i % 100) / 4);
    return { id: `p${i}`, name: `Cloth ${i}`, mesh: { ...rest, positions: positions.map((x) => x * (1 + (i % 3))) } };
  });
  const asset = newAsset({ id: "many", name: "many", source: { name: "many.made", format: "made" } }, parts);
  const scope = { ...everything(asset), picked: ["p7"] };
  const [found, time] = await timed(() =>
    runSelect(asset, pickSimilar.id, { how: "identical" }, scope, { progress: () => {} }),
  );
  console.log(`similar parts among 2,000: ${time.toFixed(0)} ms (${(await found).parts!.length} alike)`);
}

await line(SIDES[0]!); // compiling is not what is measured
const columns: Array<Record<string, number>> = [];
for (const n of SIDES) columns.push(await line(n));
printGrowth(SIDES.map(trianglesOfSide), columns, 3);
await symmetryTimes();
await similarTimes();
