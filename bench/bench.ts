import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Bench } from "tinybench";
import { measure } from "../src/core/check/measure";
import { readObj } from "../src/core/formats/obj-read";
import { writeObj } from "../src/core/formats/obj-write";
import { type Asset, shapesOf } from "../src/core/layout/asset";
import { layoutFromCorners } from "../src/core/layout/layout";
import { type PolyMesh, vertexCount } from "../src/core/mesh/poly-mesh";
import { topologyOf } from "../src/core/mesh/topology";
import { runEdit } from "../src/core/operations/run";
import { everything } from "../src/core/operations/scope";
import { findFaults } from "../src/core/prepare/faults";
import { joinVertices } from "../src/core/prepare/repairs";
import { matchMeshes } from "../src/core/transfer/match";
import { symmetryOf } from "../src/core/transfer/symmetry";
import { assetOf, clothMesh } from "./cloth";

// Every line at three sizes, and how much longer four times the faces take: 4 is linear. One run, so the ratios hold
// on a noisy machine. TAVLIN_PEER names a native unfolder, run on the same disk as: PEER METHOD in.obj out.obj

const SIDES = [32, 64, 128];
const quiet = { progress: () => {} };

const cloth = (n: number): Asset => assetOf(clothMesh(n));

/** Strips of the cloth, each a shell of its own: something to pack. */
function strips(n: number): Asset {
  const mesh = clothMesh(n);
  const uv = Float64Array.from({ length: 2 * mesh.cornerVertex.length }, (_, i) => {
    const strip = Math.floor(Math.floor((i >> 3) / n) / 4);
    return (mesh.positions[3 * mesh.cornerVertex[i >> 1]! + (i & 1)]! + (i & 1 ? strip : 0)) / (n / 4 + 1);
  });
  return assetOf(mesh, layoutFromCorners(mesh, uv));
}

/** The same mesh with its vertices in the opposite order. */
function renumbered(mesh: PolyMesh): PolyMesh {
  const last = vertexCount(mesh) - 1;
  return {
    ...mesh,
    positions: mesh.positions.map((_, i) => mesh.positions[3 * (last - Math.floor(i / 3)) + (i % 3)]!),
    cornerVertex: mesh.cornerVertex.map((v) => last - v),
  };
}

const lines: Record<string, (n: number) => () => unknown> = {
  read: (n) => {
    const { obj } = writeObj(cloth(n), "cloth");
    return () => readObj(obj, { name: "cloth.obj" });
  },
  topology: (n) => {
    const mesh = clothMesh(n);
    return () => topologyOf({ ...mesh }); // a new object, so that nothing is remembered
  },
  unfold: (n) => {
    const asset = cloth(n);
    return () => runEdit(asset, "unfold", {}, everything(asset), quiet);
  },
  "unfold, angles only": (n) => {
    const asset = cloth(n);
    return () => runEdit(asset, "unfold", { passes: 0 }, everything(asset), quiet);
  },
  pack: (n) => {
    const asset = strips(n);
    return () => runEdit(asset, "pack", {}, everything(asset), quiet);
  },
  measure: (n) => {
    const asset = strips(n);
    return () => measure(asset);
  },
  "faults of the mesh": (n) => {
    const asset = cloth(n);
    return () => findFaults(asset);
  },
  "join two vertices": (n) => {
    const shape = shapesOf(cloth(n))[0]!;
    return () => joinVertices(shape, [0, 1]);
  },
  "mirror images": (n) => {
    const mesh = clothMesh(n);
    return () => symmetryOf(mesh, 0);
  },
  "match by connectivity": (n) => {
    const mesh = clothMesh(n);
    const other = renumbered(mesh);
    return () => matchMeshes(mesh, other);
  },
};

async function time(act: () => unknown): Promise<number> {
  const bench = new Bench({ time: 300, iterations: 2, warmup: false });
  bench.add("one", async () => {
    await act();
  });
  await bench.run();
  const result = bench.tasks[0]!.result as { latency?: { p50?: number; mean: number } } | undefined;
  return result?.latency?.p50 ?? result?.latency?.mean ?? Number.NaN;
}

const rows: Array<Record<string, string>> = [];
for (const [name, make] of Object.entries(lines)) {
  const times: number[] = [];
  for (const n of SIDES) times.push(await time(make(n)));
  const row: Record<string, string> = { line: name };
  SIDES.forEach((n, i) => {
    row[`${(n * n).toLocaleString("en")} faces`] = `${times[i]!.toFixed(1)} ms`;
  });
  row.growth = times
    .slice(1)
    .map((t, i) => `x ${(t / times[i]!).toFixed(1)}`)
    .join(", ");
  rows.push(row);
}
console.table(rows);

const peer = process.env.TAVLIN_PEER;
if (peer) {
  const folder = mkdtempSync(join(tmpdir(), "tavlin-bench-"));
  const asset = cloth(SIDES[2]!);
  writeFileSync(join(folder, "in.obj"), writeObj(asset, "in").obj);
  const own = {
    both: await time(lines.unfold!(SIDES[2]!)),
    angles: await time(lines["unfold, angles only"]!(SIDES[2]!)),
  };
  const energyOf = (a: Asset) => measure(a).symmetricDirichlet!.toFixed(4);
  const unfolded = async (passes: number) =>
    energyOf((await runEdit(asset, "unfold", { passes }, everything(asset), quiet)).asset);
  const table = [
    { who: "Tavlin, less stretch", ms: own.both.toFixed(0), energy: await unfolded(20) },
    { who: "Tavlin, angles only", ms: own.angles.toFixed(0), energy: await unfolded(0) },
  ];
  for (const method of ["lscm", "arap"]) {
    const out = join(folder, `${method}.obj`);
    const said = execFileSync(peer, [method, join(folder, "in.obj"), out], { encoding: "utf8" });
    const figures = JSON.parse(said) as Record<string, number>;
    const ms =
      figures.ms ?? figures.milliseconds ?? (figures.seconds !== undefined ? 1000 * figures.seconds : Number.NaN);
    table.push({
      who: `peer, ${method}`,
      ms: ms.toFixed(0),
      energy: energyOf(readObj(readFileSync(out), { name: "out.obj" })),
    });
  }
  console.table(table);
}
