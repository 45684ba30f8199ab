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
  const push = (asset: Asset): number => {
    const own = shellsAt(asset, everything(asset))[Math.floor(asset.shapes.size / 2)]!;
    const moving = [{ shape: own.shape.id, uv: own.layout.uv, wedges: own.wedges }];
    const pushing = new Pushing(asset, everything(asset), moving);
    const begun = performance.now();
    for (let k = 0; k < 100; k++)
      pushing.changes({ du: Math.sin(k / 9) * 0.4, dv: Math.cos(k / 13) * 0.4 }, everything(asset).set);
    return (performance.now() - begun) / 100;
  };
  push(few);
  row("A dragged shell that pushes 500 and 1,000", push(few), push(thousand));
  const boxes = (asset: Asset) => best(asset, "into-free", { padding: 1 }, firstOf(asset));
  row("One shell into free space among 500 and 1,000", await boxes(few), await boxes(thousand));
}
process.stdout.write(`${rows.join("\n")}\n`);
pool.dispose();
