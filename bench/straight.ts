import { nodePool } from "../src/compute/node-pool";
import { triedOut } from "../src/compute/tried-out";
import { type Asset, shapesOf } from "../src/core/layout/asset";
import { makeBits } from "../src/core/layout/bits";
import { layoutFromCorners } from "../src/core/layout/layout";
import { meshFromPolygons, type PolyMesh } from "../src/core/mesh/poly-mesh";
import { topologyOf } from "../src/core/mesh/topology";
import { iota } from "../src/core/numeric/iota";
import type { Scope } from "../src/core/operations/operation";
import { runEdit } from "../src/core/operations/run";
import { everything } from "../src/core/operations/scope";
import { formOf } from "../src/core/project/form";
import { frameAbout } from "../src/core/project/frame";
import { PLAIN, projected } from "../src/core/project/kinds";
import { assetOf } from "./cloth";
import { timed } from "./growth-table";

// Milliseconds of projecting and straightening: projections alone, the whole operation with its place beside what is there,
// tubes to rectangles, a run of edges with the rest of its shell following, and all that gain among many shells. Each at a
// tenth of the size as well, so that growth can be read off one run.

const pool = nodePool(2);
const context = { progress: () => {}, pool: pool.runner(undefined) };

/** Tubes of so many quads about and along, bent, beside each other, each opened along one line and laid flat with a wave. */
function tubes(about: number, along: number, count: number): { mesh: PolyMesh; asset: Asset } {
  const points: number[] = [];
  const faces: number[][] = [];
  for (let k = 0; k < count; k++)
    for (let j = 0; j <= along; j++)
      for (let i = 0; i < about; i++) {
        const [turn, bend] = [(2 * Math.PI * i) / about, (Math.PI * j) / along];
        const out = 5 + Math.cos(turn);
        points.push(out * Math.cos(bend) + 14 * k, Math.sin(turn), out * Math.sin(bend));
      }
  const corners: number[] = [];
  for (let k = 0; k < count; k++)
    for (let j = 0; j < along; j++)
      for (let i = 0; i < about; i++) {
        const at = (a: number, b: number) => k * about * (along + 1) + b * about + (a % about);
        faces.push([at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)]);
        for (const [a, b] of [
          [i, j],
          [i + 1, j],
          [i + 1, j + 1],
          [i, j + 1],
        ] as const)
          corners.push(k / count + a / about / count / 2 + Math.sin((9 * b) / along) / 200 / count, b / along);
      }
  const mesh = meshFromPolygons(Float64Array.from(points), faces);
  return { mesh, asset: assetOf(mesh, layoutFromCorners(mesh, Float64Array.from(corners))) };
}

/** The least of six runs, of which the first ones warm up. */
const ms = async (work: () => unknown): Promise<number> => {
  let best = Infinity;
  for (let k = 0; k < 6; k++) best = Math.min(best, (await timed(work))[1]);
  return best;
};
const rows: string[] = [];
const row = (what: string, small: number, large: number): void => {
  rows.push(
    `${what.padEnd(64)} ${small.toFixed(1).padStart(9)} ${large.toFixed(1).padStart(9)} ms  x ${(large / small).toFixed(1)}`,
  );
};

for (const kind of ["flat", "box", "cylinder", "capped sphere"] as const) {
  const [small, large] = await Promise.all(
    [50_000, 500_000].map(async (quads) => {
      const { mesh } = tubes(100, quads / 100, 1);
      const none = makeBits(topologyOf(mesh).edgeCount);
      const frame = frameAbout([0, 1, 0], [0, 1, 0], [0, 0, 0]);
      return () => projected(formOf(mesh, mesh.positions, iota(quads), none, frame), kind, PLAIN);
    }),
  );
  row(`Projection as ${kind}, 100,000 and 1,000,000 triangles`, await ms(small!), await ms(large!));
}

const whole = async (op: string, asset: Asset, options: object, scope = everything(asset)) =>
  ms(() => runEdit(asset, op, options, scope, context));
{
  const [small, large] = [tubes(100, 500, 1).asset, tubes(100, 5000, 1).asset];
  const options = { kind: "cylinder", axis: "y" };
  row(
    "Project as cylinder, all of it, 100,000 and 1,000,000 triangles",
    await whole("project", small, options),
    await whole("project", large, options),
  );
}
{
  const [small, large] = [tubes(20, 50, 1).asset, tubes(40, 250, 1).asset];
  row(
    "A tube of 1,000 and 10,000 quads to a rectangle",
    await whole("rectangle", small, {}),
    await whole("rectangle", large, {}),
  );
}
{
  const picked = (about: number, along: number) => {
    const { mesh, asset } = tubes(about, along, 1);
    const t = topologyOf(mesh);
    const row = Math.floor(along / 2) * about;
    const edges = Array.from({ length: about - 1 }, (_, i) => {
      for (let e = 0; e < t.edgeCount; e++) {
        const [a, b] = [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!];
        if (Math.min(a, b) === row + i && Math.max(a, b) === row + i + 1) return e;
      }
      throw new Error("A ring has its edges.");
    });
    const items = new Map([[shapesOf(asset)[0]!.id, Uint32Array.from(edges)]]);
    return { asset, scope: { ...everything(asset), selection: { kind: "edges" as const, items } } };
  };
  const [small, large] = [picked(20, 25), picked(50, 100)];
  const tried = (asset: Asset, scope: Scope) => ms(() => triedOut(asset, "straighten-edges", {}, scope, context));
  row(
    "The same only tried, with the lines to draw",
    await tried(small.asset, small.scope),
    await tried(large.asset, large.scope),
  );
  row(
    "A run straightened, the rest following, 1,000 and 10,000 triangles",
    await whole("straighten-edges", small.asset, {}, small.scope),
    await whole("straighten-edges", large.asset, {}, large.scope),
  );
}
{
  const [small, large] = [tubes(8, 10, 100).asset, tubes(8, 10, 1000).asset];
  row(
    "All that gain among 100 and 1,000 shells",
    await whole("straighten-all", small, { limit: 2, added: 1 }),
    await whole("straighten-all", large, { limit: 2, added: 1 }),
  );
}
process.stdout.write(`${rows.join("\n")}\n`);
pool.dispose();
