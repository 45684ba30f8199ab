import { nodePool } from "../src/compute/node-pool";
import { type Asset, shapesOf } from "../src/core/layout/asset";
import { layoutFromCorners } from "../src/core/layout/layout";
import { meshFromPolygons } from "../src/core/mesh/poly-mesh";
import type { Scope } from "../src/core/operations/operation";
import { shellsAt } from "../src/core/operations/place/shells-at";
import { Pushing } from "../src/core/operations/pushing";
import { runEdit } from "../src/core/operations/run";
import { everything } from "../src/core/operations/scope";
import { Stopping } from "../src/core/operations/stopping";
import { assetOf } from "./cloth";
import { timed } from "./growth-table";

// Milliseconds of levelling and arranging many shells: level, stand upright, stack twins, spread them again, lay in rows.
// Each at a tenth of the number as well, so that growth can be read off one run.

const pool = nodePool(2);
const context = { progress: () => {}, pool: pool.runner(undefined) };

/** Patches of so many quads a side, each at a size and a turn of its own on the sheet; each shape is there twice. */
function patches(count: number, side: number): Asset {
  const points: number[] = [];
  const faces: number[][] = [];
  const uv: number[] = [];
  for (let k = 0; k < count; k++) {
    const kind = k >> 1;
    const [turn, size] = [(k * 2.399) % 6.283, (0.5 + ((k * 7) % 11) / 11) / Math.sqrt(count)];
    const first = points.length / 3;
    for (let j = 0; j <= side; j++)
      for (let i = 0; i <= side; i++)
        points.push(2 * k + i * (1 + (kind % 37) / 37), j * (1 + (kind % 61) / 61), Math.sin((i * kind) % 7) / 5);
    for (let j = 0; j < side; j++)
      for (let i = 0; i < side; i++) {
        const a = first + j * (side + 1) + i;
        faces.push([a, a + 1, a + side + 2, a + side + 1]);
        for (const [x, y] of [
          [i, j],
          [i + 1, j],
          [i + 1, j + 1],
          [i, j + 1],
        ] as const) {
          const [u, v] = [(size * x) / side, (size * y) / side];
          uv.push(
            (k % 71) / 71 + Math.cos(turn) * u - Math.sin(turn) * v,
            Math.floor(k / 71) / 71 + Math.sin(turn) * u + Math.cos(turn) * v,
          );
        }
      }
  }
  const mesh = meshFromPolygons(Float64Array.from(points), faces);
  return assetOf(mesh, layoutFromCorners(mesh, Float64Array.from(uv)));
}

/** Discs of 48 edges in rows, just clear of each other: whatever is dragged pushes many. */
function discs(count: number): Asset {
  const [points, faces, uv]: [number[], number[][], number[]] = [[], [], []];
  const a = Math.ceil(Math.sqrt(count));
  for (let k = 0; k < count; k++) {
    const first = points.length / 3;
    for (let i = 0; i < 48; i++) {
      const t = (i / 48) * 2 * Math.PI;
      points.push(3 * k + Math.cos(t), Math.sin(t), 0);
      uv.push(((k % a) + 0.5 + 0.45 * Math.cos(t)) / a, (Math.floor(k / a) + 0.5 + 0.45 * Math.sin(t)) / a);
    }
    faces.push(Array.from({ length: 48 }, (_, i) => first + i));
  }
  const mesh = meshFromPolygons(Float64Array.from(points), faces);
  return assetOf(mesh, layoutFromCorners(mesh, Float64Array.from(uv)));
}

const firstOf = (asset: Asset): Scope => ({
  ...everything(asset),
  selection: { kind: "shells", items: new Map([[shapesOf(asset)[0]!.id, Uint32Array.of(0)]]) },
});

const best = async (asset: Asset, op: string, options: object = {}, scope = everything(asset)): Promise<number> => {
  let least = Infinity;
  for (let k = 0; k < 4; k++)
    least = Math.min(least, (await timed(() => runEdit(asset, op, options, scope, context)))[1]);
  return least;
};
const rows: string[] = [];
const row = (what: string, small: number, large: number): void => {
  rows.push(
    `${what.padEnd(48)} ${small.toFixed(1).padStart(9)} ${large.toFixed(1).padStart(9)} ms  x ${(large / small).toFixed(1)}`,
  );
};

const [few, many] = [patches(500, 4), patches(5000, 4)];
for (const [op, options] of [
  ["level", {}],
  ["stand-upright", { square: true }],
  ["stack-twins", {}],
  ["space-out", {}],
  ["mirror-shells", {}],
] as const)
  row(`${op} of 500 and 5,000 shells`, await best(few, op, options), await best(many, op, options));
const stacked = await Promise.all(
  [few, many].map(async (asset) => (await runEdit(asset, "stack-twins", {}, everything(asset), context)).asset),
);
row(
  "spread-stacks of 500 and 5,000 shells",
  await best(stacked[0]!, "spread-stacks"),
  await best(stacked[1]!, "spread-stacks"),
);
const thousand = patches(1000, 4);
{
  const drag = (asset: Asset): number => {
    const [own] = shellsAt(asset, everything(asset));
    const moving = [{ shape: own!.shape.id, uv: own!.layout.uv, wedges: own!.wedges }];
    const stopping = new Stopping(asset, everything(asset), moving, 1 / 1024);
    const begun = performance.now();
    // Round in circles through all others.
    for (let k = 0; k < 400; k++) stopping.apply({ du: Math.sin(k / 9) * 0.4, dv: Math.cos(k / 13) * 0.4 });
    return (performance.now() - begun) / 400;
  };
  drag(few);
  row("A dragged shell that stops among 500 and 1,000", drag(few), drag(thousand));
  /** Milliseconds of a motion on average, the longest of them, and how many were pushed at the most. */
  const push = (asset: Asset): [mean: number, worst: number, most: number] => {
    const all = shellsAt(asset, everything(asset));
    const own = all[Math.floor(all.length / 2)]!;
    const moving = [{ shape: own.shape.id, uv: own.layout.uv, wedges: own.wedges }];
    const pushing = new Pushing(asset, everything(asset), moving);
    let [sum, worst, most] = [0, 0, 0];
    for (let k = 0; k < 100; k++) {
      const way = { du: Math.sin(k / 9) * 0.4, dv: Math.cos(k / 13) * 0.4 };
      const begun = performance.now();
      pushing.changes(way, everything(asset).set);
      const took = performance.now() - begun;
      sum += took;
      worst = Math.max(worst, took);
      most = Math.max(most, pushing.pushed(way));
    }
    return [sum / 100, worst, most];
  };
  push(discs(100));
  const [dense, denser] = [push(discs(500)), push(discs(1000))];
  row(`A dragged shell that pushes up to ${dense[2]} of 500, ${denser[2]} of 1,000`, dense[0], denser[0]);
  row("the longest of its motions", dense[1], denser[1]);
  const boxes = (asset: Asset) => best(asset, "into-free", { padding: 1 }, firstOf(asset));
  row("One shell into free space among 500 and 1,000", await boxes(few), await boxes(thousand));
}
process.stdout.write(`${rows.join("\n")}\n`);
pool.dispose();
