import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { assetOf } from "@/testing/assets";
import { type PlacedShape, shapesOf } from "../layout/asset";
import type { Edge } from "../mesh/indices";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { worldPositions } from "../mesh/transform";
import { vertexGraph } from "../mesh/walks";
import { shortestPaths } from "../numeric/heap";
import { edgeLengths } from "./edge-cost";
import { PATH_WAYS, pathBetweenEdges, pathsFrom } from "./path-ways";

const N = 8;
const at = (i: number, j: number) => j * (N + 1) + i;

/** A cloth of quads of side 1, N by N; its heights are given. */
function cloth(height: (i: number, j: number) => number): PlacedShape {
  const points: number[] = [];
  const faces: number[][] = [];
  for (let j = 0; j <= N; j++) for (let i = 0; i <= N; i++) points.push(i, j, height(i, j));
  for (let j = 0; j < N; j++)
    for (let i = 0; i < N; i++) faces.push([at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)]);
  return shapesOf(assetOf(meshFromPolygons(points, faces)))[0]!;
}

/** Vertices that a path from one vertex runs through. */
function stopsOf({ mesh }: PlacedShape, from: number, path: readonly number[]): number[] {
  const { edgeVertices } = topologyOf(mesh);
  const out = [from];
  for (const e of path) {
    const [a, b] = [edgeVertices[2 * e]!, edgeVertices[2 * e + 1]!];
    expect([a, b]).toContain(out.at(-1));
    out.push(a === out.at(-1) ? b : a);
  }
  return out;
}

describe("paths along edges", () => {
  it("run from the vertex to the other without a gap, whatever they keep to", () => {
    const shape = cloth((i, j) => Math.sin(i) * Math.cos(2 * j));
    const vertex = fc.nat((N + 1) * (N + 1) - 1);
    fc.assert(
      fc.property(fc.constantFrom(...PATH_WAYS), vertex, fc.array(vertex, { minLength: 1 }), (way, from, targets) => {
        const paths = pathsFrom(shape, way, from, new Float32Array(N * N).fill(1));
        // Asked one after another of the same search: what was found before is not spoilt.
        for (const to of targets) expect(stopsOf(shape, from, paths.linksTo(to)!).at(-1)).toBe(to);
      }),
      { numRuns: 60 },
    );
  });

  it("the shortest is as short as one that is searched for to the end", () => {
    const shape = cloth((i, j) => Math.sin(3 * i + j));
    const lengths = edgeLengths(shape.mesh, worldPositions(shape.mesh, shape.metric));
    const all = shortestPaths(vertexGraph(shape.mesh), lengths, [at(2, 3)]);
    const paths = pathsFrom(shape, "shortest", at(2, 3));
    for (const to of [at(2, 3), at(8, 8), at(0, 7), at(3, 3)]) {
      const length = paths.linksTo(to)!.reduce((sum, e) => sum + lengths[e]!, 0);
      expect(length).toBeCloseTo(all.distance[to]!, 12);
    }
  });

  it("leads by the same ways when it was searched for ahead of the question", () => {
    const shape = cloth((i, j) => Math.sin(2 * i) * Math.cos(j));
    for (const way of PATH_WAYS) {
      const seen = new Float32Array(N * N).fill(0.5);
      const asked = pathsFrom(shape, way, at(1, 1), seen);
      const ahead = pathsFrom(shape, way, at(1, 1), seen);
      let rounds = 0;
      while (ahead.goOn(7)) rounds++;
      expect(rounds, way).toBeGreaterThan(5);
      for (const to of [at(8, 8), at(0, 7), at(1, 1)]) expect(ahead.linksTo(to), way).toEqual(asked.linksTo(to));
    }
  });

  it("the straight one turns once where many are as short", () => {
    const shape = cloth(() => 0);
    const stops = stopsOf(shape, at(0, 0), pathsFrom(shape, "straight", at(0, 0)).linksTo(at(6, 5))!);
    const turns = stops.slice(2).filter((v, k) => v - stops[k + 1]! !== stops[k + 1]! - stops[k]!);
    expect(stops).toHaveLength(12);
    expect(turns).toHaveLength(1);
  });

  it("the creased one takes the way round along a fold", () => {
    // A ridge along row 2: straight across is shorter than by way of it.
    const shape = cloth((_, j) => (j === 2 ? 1.5 : 0));
    const across = stopsOf(shape, at(0, 0), pathsFrom(shape, "shortest", at(0, 0)).linksTo(at(N, 0))!);
    const round = stopsOf(shape, at(0, 0), pathsFrom(shape, "creased", at(0, 0)).linksTo(at(N, 0))!);
    expect(across).toEqual(Array.from({ length: N + 1 }, (_, i) => at(i, 0)));
    expect(round).toContain(at(4, 1));
  });

  it("the hidden one goes where faces are not seen", () => {
    const shape = cloth(() => 0);
    const seen = Float32Array.from({ length: N * N }, (_, f) => (f >= 3 * N && f < 5 * N ? 0 : 1));
    const stops = stopsOf(shape, at(0, 0), pathsFrom(shape, "hidden", at(0, 0), seen).linksTo(at(N, 0))!);
    expect(stops).toContain(at(4, 4));
  });

  it("there is none to another piece", () => {
    const mesh = meshFromPolygons(
      [0, 0, 0, 1, 0, 0, 0, 1, 0, 5, 0, 0, 6, 0, 0, 5, 1, 0],
      [
        [0, 1, 2],
        [3, 4, 5],
      ],
    );
    const shape = shapesOf(assetOf(mesh))[0]!;
    for (const way of PATH_WAYS) expect(pathsFrom(shape, way, 0, new Float32Array(2)).linksTo(3), way).toBeNull();
    expect([...pathBetweenEdges(shape, 0 as Edge, 4 as Edge)]).toEqual([4]);
  });
});
