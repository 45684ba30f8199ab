import { describe, expect, it } from "vitest";
import type { Edge } from "./indices";
import { branchesOf, edgeLoop, loopBetween, loopRun } from "./loops";
import { meshFromPolygons, type PolyMesh } from "./poly-mesh";
import { topologyOf } from "./topology";

/** A torus of m by n quads, each cut into two triangles if wanted. */
function torus(m: number, n: number, triangles = false): PolyMesh {
  const points: number[] = [];
  for (let j = 0; j < n; j++)
    for (let i = 0; i < m; i++) {
      const [a, b] = [(2 * Math.PI * i) / m, (2 * Math.PI * j) / n];
      points.push((3 + Math.cos(b)) * Math.cos(a), Math.sin(b), (3 + Math.cos(b)) * Math.sin(a));
    }
  const at = (i: number, j: number) => (j % n) * m + (i % m);
  const faces: number[][] = [];
  for (let j = 0; j < n; j++)
    for (let i = 0; i < m; i++) {
      const [a, b, c, d] = [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)];
      if (triangles) faces.push([a, b, c], [a, c, d]);
      else faces.push([a, b, c, d]);
    }
  return meshFromPolygons(points, faces);
}

/** The edge between two vertices. */
function edgeOf(mesh: PolyMesh, a: number, b: number): Edge {
  const { edgeVertices, edgeCount } = topologyOf(mesh);
  for (let e = 0; e < edgeCount; e++)
    if (edgeVertices[2 * e]! + edgeVertices[2 * e + 1]! === a + b && [a, b].includes(edgeVertices[2 * e]!))
      return e as Edge;
  throw new Error("There is no such edge.");
}
const BEND = Math.PI / 3;

describe("loops", () => {
  it("go once round a torus, either way", () => {
    const mesh = torus(12, 8);
    expect(loopRun(mesh, edgeOf(mesh, 0, 1))).toMatchObject({ closed: true, edges: { length: 12 } });
    expect(loopRun(mesh, edgeOf(mesh, 0, 12))).toMatchObject({ closed: true, edges: { length: 8 } });
  });

  it("end where six edges meet, or go straight on there when asked to", () => {
    const mesh = torus(12, 8, true);
    const edge = edgeOf(mesh, 0, 1);
    expect(loopRun(mesh, edge).edges).toEqual([edge]);
    expect(loopRun(mesh, edge, BEND)).toMatchObject({ closed: true, edges: { length: 12 } });
    expect([...edgeLoop(mesh, edge, BEND)]).toEqual(
      Array.from({ length: 12 }, (_, i) => edgeOf(mesh, i, (i + 1) % 12)).sort((a, b) => a - b),
    );
    // Sharper than the limit: eight edges make a turn of 45 degrees each.
    expect(loopRun(mesh, edgeOf(mesh, 0, 12), Math.PI / 5).edges).toHaveLength(1);
    expect(loopRun(mesh, edgeOf(mesh, 0, 12), BEND).edges).toHaveLength(8);
  });

  it("are taken up to another of their edges, by the shorter way", () => {
    const mesh = torus(12, 8);
    const [a, b] = [edgeOf(mesh, 0, 1), edgeOf(mesh, 3, 4)];
    const between = [0, 1, 2, 3].map((i) => edgeOf(mesh, i, i + 1));
    expect([...loopBetween(mesh, a, b)!].sort()).toEqual([...between].sort());
    expect([...loopBetween(mesh, b, a)!].sort()).toEqual([...between].sort());
    const back = edgeOf(mesh, 10, 11);
    expect([...loopBetween(mesh, a, back)!].sort()).toEqual([edgeOf(mesh, 11, 0), a, back].sort());
    expect(loopBetween(mesh, a, edgeOf(mesh, 0, 12))).toBeNull();
  });

  it("stay on the border they began on, and inner ones end at it", () => {
    // Three quads by two: the lower border has three edges, the inner line up has two.
    const points = Array.from({ length: 12 }, (_, k) => [k % 4, Math.floor(k / 4), 0]).flat();
    const faces = [0, 1].flatMap((j) => [0, 1, 2].map((i) => [4 * j + i, 4 * j + i + 1, 4 * j + i + 5, 4 * j + i + 4]));
    const mesh = meshFromPolygons(points, faces);
    expect(loopRun(mesh, edgeOf(mesh, 0, 1))).toMatchObject({ closed: true, edges: { length: 10 } });
    expect(loopRun(mesh, edgeOf(mesh, 1, 5), BEND).edges).toHaveLength(2);
  });
});

describe("branches", () => {
  const flagsOf = (mesh: PolyMesh, ...edges: Edge[]) => {
    const out = new Uint8Array(topologyOf(mesh).edgeCount);
    for (const e of edges) out[e] = 1;
    return out;
  };

  it("are every way on from both ends, the straightest first, each as far as its loop runs", () => {
    const mesh = torus(12, 8);
    const found = branchesOf(mesh, flagsOf(mesh, edgeOf(mesh, 0, 1)));
    expect(found).toHaveLength(6);
    // The loop is gone on to from either end, up to the picked edge; across it a whole ring of eight.
    expect(found.map((b) => b.length).sort((a, b) => a - b)).toEqual([8, 8, 8, 8, 11, 11]);
    expect([found[0]!.length, found[3]!.length]).toEqual([11, 11]);
    for (const branch of found) expect(branch).not.toContain(edgeOf(mesh, 0, 1));
  });

  it("are all that meet at a pole, and none of a loop that is closed", () => {
    // Six triangles about a point, each with a row of quads beyond it.
    const ring = (r: number) =>
      Array.from({ length: 6 }, (_, i) => [r * Math.cos((i * Math.PI) / 3), r * Math.sin((i * Math.PI) / 3), 0]).flat();
    const faces = Array.from({ length: 6 }, (_, i) => [0, 1 + i, 1 + ((i + 1) % 6)]);
    for (let i = 0; i < 6; i++) faces.push([1 + i, 7 + i, 7 + ((i + 1) % 6), 1 + ((i + 1) % 6)]);
    const mesh = meshFromPolygons([0, 0, 0, ...ring(1), ...ring(2)], faces);
    const spoke = edgeOf(mesh, 0, 1);
    const atPole = branchesOf(mesh, flagsOf(mesh, spoke)).filter((b) =>
      topologyOf(mesh)
        .edgeVertices.slice(2 * b[0]!, 2 * b[0]! + 2)
        .includes(0),
    );
    expect(atPole).toHaveLength(5);
    // The spoke across goes straight on, out to the border.
    expect(atPole[0]).toEqual([edgeOf(mesh, 0, 4), edgeOf(mesh, 4, 10)]);
    const closed = torus(6, 5);
    expect(branchesOf(closed, flagsOf(closed, ...loopRun(closed, edgeOf(closed, 0, 1)).edges))).toEqual([]);
  });
});
