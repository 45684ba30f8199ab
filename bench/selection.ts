import { Texture } from "three";
import { DocumentHost } from "../src/compute/host";
import { type Asset, type PlacedShape, shapesOf } from "../src/core/layout/asset";
import { type Layout, layoutFromCorners, structureOf } from "../src/core/layout/layout";
import { newAsset } from "../src/core/layout/new-asset";
import type { PolyMesh } from "../src/core/mesh/poly-mesh";
import { topologyOf } from "../src/core/mesh/topology";
import { trianglesOf } from "../src/core/mesh/triangulate";
import { move } from "../src/core/operations/registry";
import { layoutOf } from "../src/core/operations/scope";
import { ElementSet } from "../src/core/select/element-set";
import { pickMany, select } from "../src/ui/session/selection";
import { type Bench, newBench, scopeNow } from "../src/ui/session/store";
import { Chunk } from "../src/ui/stage/chunk";
import { drawnShapes } from "../src/ui/stage/chunk-plan";
import { StageModel } from "../src/ui/stage/stage-model";
import { itemAt, itemsThrough, type Surface } from "../src/ui/tools/picker";
import { discRegion, lassoRegion } from "../src/ui/tools/region";
import { assetOf, clothMesh } from "./cloth";
import { printGrowth, timed, trianglesOfSide } from "./growth-table";

// What picking and pointing cost the page, by the same code as in the browser but for the drawing: the selection, what
// tools ask of it, and what the stage writes for the graphics card. At three sizes in one run.

const SIDES = [70, 224, 707];
const ROUNDS = 15;

/** The cloth in triangles, laid out in strips. */
function strips(n: number): Asset {
  const mesh = clothMesh(n, 3);
  const uv = new Float64Array(2 * mesh.cornerVertex.length);
  const tall = Math.ceil(n / 20);
  mesh.cornerVertex.forEach((v, c) => {
    const strip = Math.floor(Math.floor(c / 6 / n) / tall);
    uv[2 * c] = 0.9 * mesh.positions[3 * v]! + 0.05;
    uv[2 * c + 1] = 0.9 * mesh.positions[3 * v + 1]! + 0.002 * strip + 0.01;
  });
  return assetOf(mesh, layoutFromCorners(mesh, uv));
}

/** Of several rounds the middle one, in milliseconds. */
async function middle(act: (round: number) => void): Promise<number> {
  const times: number[] = [];
  for (let k = 0; k < ROUNDS; k++) times.push((await timed(() => act(k)))[1]);
  return times.sort((a, b) => a - b)[ROUNDS >> 1]!;
}

/** As the renderer does after it has sent a table. */
function asSent(model: StageModel): void {
  for (const texture of model.textures()) {
    texture.clearUpdateRanges();
    (texture.onUpdate as (() => void) | null)?.();
  }
}

/** A model of the stage with everything filled in and, as far as it knows, on the graphics card. */
function sentModel(bench: Bench): StageModel {
  const model = new StageModel(
    () => new Texture(),
    () => {},
  );
  model.sync(bench.getState());
  model.work(Infinity);
  asSent(model);
  return model;
}

/** What a shell costs that is pointed at, and one that follows the pointer. */
async function shellTimes(bench: Bench, model: StageModel, shape: PlacedShape, layout: Layout) {
  const names = structureOf(shape.mesh, layout).shellFaces;
  const overShell = await middle((k) => {
    bench.setState({ hover: { shape: shape.id, face: 0, item: k % 2 ? names[0]! : names.at(-1)! } });
    model.sync(bench.getState());
  });
  // One shell of as many triangles as a twentieth of all, here and there in turn.
  const moved = [1e-3, 2e-3].map((by) => layout.uv.map((x, i) => (i < layout.uv.length / 20 ? x + by : x)));
  const following = await middle((k) => {
    bench.setState({ live: new Map([[shape.id, moved[k % 2]!]]) });
    model.sync(bench.getState());
    asSent(model);
  });
  return { "a shell pointed at, with what the stage writes": overShell, "a shell follows the pointer": following };
}

/** What it costs to find what is under the pointer, and in a lasso. */
async function pointingTimes(asset: Asset) {
  const set = asset.sets[0]!.id;
  const shape = shapesOf(asset)[0]!;
  const faces = shape.mesh.faceStart.length - 1;
  const pixels = 1000;
  const surface: Surface = {
    faceAt: () => ({ part: asset.parts[0]!.id, face: faces >> 1 }),
    facesIn: () => [],
    pixelMatrix: () => [pixels, 0, 0, 0, 0, -pixels, 0, 0, 0, 0, 1, 0, 0, pixels, 0, 1],
  };
  const now = { asset, set, kind: "edges" as const, hidden: new Set<string>() };
  const pointing = await middle((k) => void itemAt("sheet", surface, now, 400 + k, 500));
  // A round of such a size that a tenth of all faces lies in it.
  const round = lassoRegion(
    Array.from({ length: 200 }, (_, i): [number, number] => [
      500 + 190 * Math.cos((i * Math.PI) / 100),
      500 + 190 * Math.sin((i * Math.PI) / 100),
    ]),
  );
  let found = 0;
  const lasso = await middle(() => {
    found = itemsThrough("sheet", surface, { ...now, kind: "faces" }, round).get(shape.id)!.size;
  });
  const dab = await middle(
    (k) => void itemsThrough("sheet", surface, { ...now, kind: "faces" }, discRegion(400 + 9 * k, 500, 18)),
  );
  return {
    "a dab of the brush, through": dab,
    "edge under the pointer": pointing,
    "lasso of a tenth of all faces, through": lasso,
    "  faces found, thousands": found / 1000,
  };
}

async function line(n: number): Promise<Record<string, number>> {
  const asset = strips(n);
  const set = asset.sets[0]!.id;
  const shape = shapesOf(asset)[0]!;
  const layout = layoutOf(shape, set);
  const faces = shape.mesh.faceStart.length - 1;
  // The document's host hands these to the page.
  topologyOf(shape.mesh);
  trianglesOf(shape.mesh);
  structureOf(shape.mesh, layout);
  const bench: Bench = newBench({ asset, set, kind: "faces", wires: { form: false, sheet: false } });
  let longest = 0;
  const chunk = new Chunk(drawnShapes(asset, set));
  const filling = chunk.fill();
  for (let done = false; !done; ) {
    const [step, time] = await timed(() => filling.next());
    longest = Math.max(longest, time);
    done = step.done === true;
  }
  const [, layingOut] = await timed(() => chunk.slots.get(shape.id)!.setLayout(layout));
  const model = sentModel(bench);
  const whole = new Map([[shape.id, ElementSet.all(faces)]]);
  const adding = await middle((k) => {
    select(bench, "faces", new Map([[shape.id, whole.get(shape.id)!.without([k])]]));
    pickMany(bench, new Map([[shape.id, [k]]]), "add");
  });
  model.sync(bench.getState());
  asSent(model);
  const picking = await middle((k) => {
    pickMany(bench, new Map([[shape.id, [faces - 1 - k]]]), "remove");
    model.sync(bench.getState());
  });
  asSent(model);
  const hovering = await middle((k) => {
    bench.setState({ hover: { shape: shape.id, face: 7 * k, item: 7 * k } });
    model.sync(bench.getState());
  });
  bench.setState({ kind: "shells" });
  model.sync(bench.getState());
  const shells = await shellTimes(bench, model, shape, layout);
  const megabytes = model.bytes() / 1e6;
  model.dispose();
  return {
    "one face added to the whole part": adding,
    "a face picked, with what the stage writes": picking,
    "a face pointed at, with what the stage writes": hovering,
    ...shells,
    ...(await pointingTimes(asset)),
    "made ready to be drawn: longest stretch": Math.max(longest, layingOut),
    "on the graphics card, MB": megabytes,
  };
}

/** Frames a second of what host and page compute while a shell of 10,000 triangles follows the pointer among 1,000. */
async function framesFollowing(): Promise<number> {
  const [large, small] = [clothMesh(70, 3), clothMesh(2, 3)];
  const laid = (mesh: PolyMesh, u: number, v: number, size: number) => {
    const uv = new Float64Array(2 * mesh.cornerVertex.length);
    mesh.cornerVertex.forEach((vertex, c) => {
      uv[2 * c] = u + size * mesh.positions[3 * vertex]!;
      uv[2 * c + 1] = v + size * mesh.positions[3 * vertex + 1]!;
    });
    return { mesh, layouts: [layoutFromCorners(mesh, uv)] };
  };
  const asset = newAsset({ id: "many", name: "many", source: { name: "many.made", format: "made" } }, [
    { id: "p0", name: "Moved", ...laid(large, 0.7, 0.7, 0.2) },
    ...Array.from({ length: 1000 }, (_, i) => ({
      id: `p${i + 1}`,
      name: `Cloth ${i}`,
      ...laid({ ...small }, 0.02 * (i % 32), 0.02 * Math.floor(i / 32), 0.015),
    })),
  ]);
  const set = asset.sets[0]!.id;
  const shape = shapesOf(asset)[0]!;
  const name = structureOf(shape.mesh, layoutOf(shape, set)).shellFaces[0]!;
  const bench = newBench({ asset, set, kind: "shells" });
  select(bench, "shells", new Map([[shape.id, ElementSet.of(shape.mesh.faceStart.length - 1, [name])]]));
  const model = sentModel(bench);
  const host = new DocumentHost(null);
  const { revision } = host.load(asset);
  await host.measure(revision, set, "area");
  const live = await host.begin(revision, "move", scopeNow(bench.getState(), move));
  const frames = 300;
  const [, time] = await timed(() => {
    for (let k = 0; k < frames; k++) {
      const { layouts } = host.update(live, { du: 1e-4 * k, dv: 0, turn: 0, scale: 1 });
      bench.setState({ live: new Map(layouts.map((l) => [l.shape, l.layout!.uv])) });
      model.sync(bench.getState());
      asSent(model);
    }
  });
  return (1000 * frames) / time;
}

await line(SIDES[0]!); // compiling is not what is measured
const columns: Array<Record<string, number>> = [];
for (const n of SIDES) columns.push(await line(n));
printGrowth(SIDES.map(trianglesOfSide), columns, 3);
console.log(
  `a shell of 10,000 triangles among 1,000 follows the pointer: ${(await framesFollowing()).toFixed(0)} frames a second`,
);
process.exit(0);
