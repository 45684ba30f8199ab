import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { assetOf } from "../../testing/assets";
import type { Asset } from "../layout/asset";
import { makeBits, setBit } from "../layout/bits";
import { layoutFromCorners, withBits } from "../layout/layout";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { type Between, measureBetween } from "./between";
import { FigureCache } from "./figures";
import { betweenShapes } from "./measure";
import { overlapPairs } from "./overlap-pairs";
import { allShells, trianglesOfShells } from "./shells-in-uv";

type Star = { readonly u: number; readonly v: number; readonly radii: readonly number[] };

const RAYS = 7;
/** All is laid in a sixteenth of a tile: covered area is counted by samples, and those are the time of these tests. */
const SMALL = 1 / 16;
/** Stars, each a fan of triangles and a shell: some are folded where a radius is negative. */
function stars(list: readonly Star[]): Asset {
  const positions: number[] = [];
  const faces: number[][] = [];
  const uv: number[] = [];
  for (const { u, v, radii } of list) {
    const first = positions.length / 3;
    positions.push(3 * first, 0, 0);
    const at = radii.map((r, k) => {
      const [x, y] = [Math.cos((2 * Math.PI * k) / RAYS), Math.sin((2 * Math.PI * k) / RAYS)];
      positions.push(3 * first + x, y, 0);
      return [SMALL * (u + r * x), SMALL * (v + r * y)] as const;
    });
    for (let k = 0; k < RAYS; k++) {
      const next = (k + 1) % RAYS;
      faces.push([first, first + 1 + k, first + 1 + next]);
      uv.push(SMALL * u, SMALL * v, ...at[k]!, ...at[next]!);
    }
  }
  const mesh = meshFromPolygons(positions, faces);
  return assetOf(mesh, layoutFromCorners(mesh, Float64Array.from(uv)));
}

const at = fc.double({ min: 0, max: 1, noNaN: true });
const radius = fc.oneof(
  { weight: 12, arbitrary: fc.double({ min: 0.02, max: 0.25, noNaN: true }) },
  { weight: 1, arbitrary: fc.double({ min: -0.2, max: -0.02, noNaN: true }) },
);
const star = fc.record({ u: at, v: at, radii: fc.array(radius, { minLength: RAYS, maxLength: RAYS }) });

function measured(asset: Asset, cache = new FigureCache(), before?: Between) {
  const shapes = betweenShapes(asset, "s1", cache, cache.all(asset, "s1"));
  return { shapes, between: measureBetween({ shapes, before }) };
}
const listed = (pairs: ReadonlyArray<{ a: number; b: number; area: number }>) =>
  pairs.map(({ a, b, area }) => [a, b, Number(area.toFixed(11))]).sort((p, q) => p[0]! - q[0]! || p[1]! - q[1]!);

describe("what lies between shells", () => {
  it("is told by borders as all triangles tell it", () => {
    fc.assert(
      fc.property(fc.array(star, { minLength: 1, maxLength: 9 }), (list) => {
        const { shapes, between } = measured(stars(list));
        const shells = allShells(shapes);
        const every = new Map(Array.from(shells.local.keys()).map((k) => [k, null]));
        expect(listed(between.pairs!)).toEqual(listed(overlapPairs(trianglesOfShells(shapes, shells, every))!));
      }),
      { numRuns: 30 },
    );
  });

  it("takes the sides of a cut that was not opened for shells beside each other", async () => {
    const cols = 6;
    const positions = Array.from({ length: (cols + 1) ** 2 }, (_, i) => [
      i % (cols + 1),
      Math.floor(i / (cols + 1)),
      0,
    ]);
    const faces = Array.from({ length: cols * cols }, (_, i) => {
      const c = i + Math.floor(i / cols);
      return [c, c + 1, c + cols + 2, c + cols + 1];
    });
    const mesh = meshFromPolygons(positions.flat(), faces);
    const uv = Float64Array.from(
      mesh.cornerVertex.length
        ? [...mesh.cornerVertex].flatMap((v) => positions[v]!.slice(0, 2).map((x) => SMALL * (x / 7.3 + 0.01)))
        : [],
    );
    const whole = assetOf(mesh, layoutFromCorners(mesh, uv));
    const { edgeCount } = topologyOf(mesh);
    await fc.assert(
      fc.asyncProperty(
        fc.uniqueArray(fc.nat(edgeCount - 1), { minLength: 1, maxLength: 40 }),
        fc.boolean(),
        async (cuts, fold) => {
          const shape = [...whole.shapes.values()][0]!;
          const layout = shape.layouts.get("s1")!;
          const cut = makeBits(edgeCount);
          for (const e of cuts) setBit(cut, e);
          const open = withBits(mesh, layout, cut);
          // A corner of the sheet is folded over it where wanted.
          const points = open.uv.slice();
          if (fold) points.set([SMALL * 0.5, SMALL * 0.43]);
          const asset = {
            ...whole,
            shapes: new Map([[shape.id, { ...shape, layouts: new Map([["s1", { ...open, uv: points }]]) }]]),
          };
          const { shapes, between } = measured(asset);
          const shells = allShells(shapes);
          const every = new Map(Array.from(shells.local.keys()).map((k) => [k, null]));
          const wanted = listed(overlapPairs(trianglesOfShells(shapes, shells, every))!);
          expect(listed(between.pairs!)).toEqual(wanted);
          if (!fold) expect([...shells.simple]).toEqual([...shells.simple].fill(1));
        },
      ),
      { numRuns: 30 },
    );
  });

  it("is the same after some shells moved as measured from nothing", () => {
    fc.assert(
      fc.property(
        fc.array(star, { minLength: 2, maxLength: 12 }),
        fc.array(fc.tuple(fc.nat(11), at, at), { minLength: 1, maxLength: 3 }),
        (list, moves) => {
          const cache = new FigureCache();
          const asset = stars(list);
          const first = measured(asset, cache);
          const next = [...list];
          for (const [i, u, v] of moves) if (next[i]) next[i] = { ...next[i]!, u, v };
          // The mesh stays; only points move.
          const moved = stars(next);
          const shape = [...asset.shapes.values()][0]!;
          const layouts = new Map([["s1", [...moved.shapes.values()][0]!.layouts.get("s1")!]]);
          const edited = { ...asset, shapes: new Map([[shape.id, { ...shape, layouts }]]) };
          const after = measured(edited, cache, first.between).between;
          const anew = measured(edited).between;
          expect(listed(after.pairs!)).toEqual(listed(anew.pairs!));
          expect(after.gap).toBe(anew.gap);
          expect(after.cover).toEqual(anew.cover);
          expect(after.overlapUnstacked).toBe(anew.overlapUnstacked);
        },
      ),
      { numRuns: 20 },
    );
  });

  it("finds a shell inside another, and none in its hole", () => {
    const ring = (u: number, v: number, inner: number, outer: number): number[][] =>
      [0, 1, 2, 3].map((k) => {
        const c = (n: number, r: number) => [u + r * [1, -1, -1, 1][n % 4]!, v + r * [1, 1, -1, -1][n % 4]!];
        return [...c(k, inner), ...c(k, outer), ...c(k + 1, outer), ...c(k + 1, inner)];
      });
    const quads = (list: number[][]): Asset => {
      // The ring is joined by its vertices; the square stands beside it.
      const points: number[][] = [];
      const number = (x: number, y: number): number => {
        const known = points.findIndex(([a, b]) => a === x && b === y);
        return known >= 0 ? known : points.push([x, y]) - 1;
      };
      const faces = list.map((q) => [0, 1, 2, 3].map((n) => number(q[2 * n]!, q[2 * n + 1]!)));
      const mesh = meshFromPolygons(
        points.flatMap(([x, y]) => [x!, y!, 0]),
        faces,
      );
      return assetOf(mesh, layoutFromCorners(mesh, Float64Array.from(list.flat())));
    };
    const square = (u: number, v: number, r: number) => [u - r, v - r, u + r, v - r, u + r, v + r, u - r, v + r];
    const hole = measured(quads([...ring(0.5, 0.5, 0.2, 0.4), square(0.5, 0.5, 0.1)])).between;
    expect(hole.pairs).toEqual([]);
    expect(hole.gap).toBeCloseTo(0.1, 12);
    const inside = measured(quads([...ring(0.5, 0.5, 0.2, 0.4), square(0.5, 0.8, 0.05)])).between;
    expect(inside.pairs).toEqual([{ a: 0, b: 1, area: expect.closeTo(0.01, 12) }]);
  });
});
