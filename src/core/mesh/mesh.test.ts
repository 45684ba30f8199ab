import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box, lathe, placed, type Shape } from "../../../demo/kit";
import { marketCart } from "../../../demo/models/market-cart";
import { shapesOf } from "../layout/asset";
import type { Corner, Edge } from "./indices";
import { edgeLoop } from "./loops";
import { cornerCount, faceCount, meshFromPolygons, type PolyMesh, vertexCount } from "./poly-mesh";
import { subMesh } from "./sub-mesh";
import { edgeCorner, edgeFaceCount, mateCorner, topologyOf, windsAlike } from "./topology";
import { determinant, IDENTITY, inverse, isIdentity, multiply, transformPoints, worldPositions } from "./transform";
import { trianglesOf } from "./triangulate";
import { edgePath, pathsFromEdge } from "./walks";
import { weldExact } from "./weld-exact";

const meshOf = (s: Shape): PolyMesh => meshFromPolygons(s.points.flat(), s.faces);
const crate = meshOf(box([3, 2, 1], [3, 2, 1]));
const tube = meshOf(
  lathe(
    [
      [1, 0],
      [1, 1],
      [1, 2],
    ],
    8,
    0,
    false,
  ),
);
const demo = shapesOf(marketCart()).map((s) => s.mesh);
const all = [crate, tube, ...demo];

describe("topology", () => {
  it("tells the same edge from every corner, and every corner of an edge once", () => {
    for (const mesh of all) {
      const t = topologyOf(mesh);
      const seen = new Uint8Array(cornerCount(mesh));
      for (let e = 0 as Edge; e < t.edgeCount; e++) {
        expect(edgeFaceCount(t, e)).toBeGreaterThan(0);
        for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++) {
          const c = t.edgeCorners[k]!;
          seen[c]!++;
          expect(t.cornerEdge[c]).toBe(e);
          const ends = [mesh.cornerVertex[c]!, mesh.cornerVertex[t.cornerNext[c]!]!].sort((a, b) => a - b);
          expect([t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!].sort((a, b) => a - b)).toEqual(ends);
        }
        expect(edgeCorner(t, e)).toBe(t.edgeCorners[t.edgeCornerStart[e]!]);
      }
      expect(seen.every((n) => n === 1)).toBe(true);
    }
  });

  it("walks around faces and across edges and back", () => {
    for (const mesh of all) {
      const t = topologyOf(mesh);
      for (let f = 0; f < faceCount(mesh); f++) {
        const size = mesh.faceStart[f + 1]! - mesh.faceStart[f]!;
        let c = mesh.faceStart[f]! as Corner;
        for (let k = 0; k < size; k++) {
          expect(t.cornerFace[c]).toBe(f);
          const mate = mateCorner(t, c);
          if (mate !== -1) {
            expect(mateCorner(t, mate)).toBe(c);
            expect(windsAlike(mesh, t, c, mate)).toBe(true);
          }
          c = t.cornerNext[c]!;
        }
        expect(c).toBe(mesh.faceStart[f]);
      }
    }
  });

  it("counts as Euler says: a crate has no border, a tube two", () => {
    const euler = (mesh: PolyMesh) => vertexCount(mesh) - topologyOf(mesh).edgeCount + faceCount(mesh);
    expect(euler(crate)).toBe(2);
    expect(euler(tube)).toBe(0);
    const t = topologyOf(tube);
    const borders = Array.from({ length: t.edgeCount }, (_, e) => e as Edge).filter((e) => edgeFaceCount(t, e) === 1);
    expect(borders).toHaveLength(16);
    expect(
      Array.from({ length: topologyOf(crate).edgeCount }, (_, e) => edgeFaceCount(topologyOf(crate), e as Edge)).every(
        (n) => n === 2,
      ),
    ).toBe(true);
  });
});

describe("triangles", () => {
  /** Area of polygons and of their triangles in a plane. */
  const polygon = fc
    .array(fc.tuple(fc.double({ min: 0.2, max: 1, noNaN: true }), fc.double({ min: 0.05, max: 1, noNaN: true })), {
      minLength: 3,
      maxLength: 12,
    })
    .map((spokes) => {
      // A star about the origin: simple, and often concave.
      const sum = spokes.reduce((n, [, w]) => n + w, 0);
      let angle = 0;
      return spokes.map(([r, w]) => {
        angle += (2 * Math.PI * w) / sum;
        return [r * Math.cos(angle), r * Math.sin(angle), 0] as const;
      });
    })
    .filter((p) => p.every((a, i) => turnOf(p[(i + 1) % p.length]!, a) < Math.PI * 0.95));
  function turnOf(a: readonly number[], b: readonly number[]): number {
    const d = Math.atan2(a[1]!, a[0]!) - Math.atan2(b[1]!, b[0]!);
    return d < 0 ? d + 2 * Math.PI : d;
  }
  it("cover a polygon, convex or not, once: none is turned over and their areas add up", () => {
    fc.assert(
      fc.property(polygon, (points) => {
        const mesh = meshFromPolygons(points.flat(), [points.map((_, i) => i)]);
        const { corners, face } = trianglesOf(mesh);
        expect(face).toHaveLength(points.length - 2);
        const cross = (i: number, j: number, k: number) => {
          const [a, b, c] = [points[i]!, points[j]!, points[k]!];
          return ((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])) / 2;
        };
        let sum = 0;
        for (let t = 0; t < face.length; t++) {
          const area = cross(corners[3 * t]!, corners[3 * t + 1]!, corners[3 * t + 2]!);
          expect(area).toBeGreaterThan(-1e-9);
          sum += area;
        }
        const whole = points.reduce((n, p, i) => {
          const q = points[(i + 1) % points.length]!;
          return n + (p[0] * q[1] - p[1] * q[0]) / 2;
        }, 0);
        expect(sum).toBeCloseTo(whole, 9);
      }),
    );
  });

  it("are found by face, as many as the face has corners but two", () => {
    for (const mesh of all) {
      const t = trianglesOf(mesh);
      for (let f = 0; f < faceCount(mesh); f++) {
        expect(t.faceStart[f + 1]! - t.faceStart[f]!).toBe(mesh.faceStart[f + 1]! - mesh.faceStart[f]! - 2);
        for (let k = t.faceStart[f]!; k < t.faceStart[f + 1]!; k++) expect(t.face[k]).toBe(f);
      }
    }
  });
});

describe("walks along edges", () => {
  it("go round a tube at one height, and along it from border to border", () => {
    const t = topologyOf(tube);
    const at = (e: number) => [0, 1].map((k) => tube.positions[3 * t.edgeVertices[2 * e + k]! + 1]!);
    for (let e = 0 as Edge; e < t.edgeCount; e++) {
      const loop = [...edgeLoop(tube, e)];
      expect(loop).toContain(e);
      const [a, b] = at(e);
      if (a === b) {
        expect(loop).toHaveLength(8);
        for (const other of loop) expect(at(other)).toEqual([a, a]);
      } else expect(loop).toHaveLength(2);
      // A loop is the same from whichever of its edges it is asked for.
      for (const other of loop) expect([...edgeLoop(tube, other as Edge)]).toEqual(loop);
    }
  });

  it("find the shortest way between two edges, whichever is asked for first", () => {
    const t = topologyOf(crate);
    const length = Float64Array.from({ length: t.edgeCount }, (_, e) => {
      const [a, b] = [3 * t.edgeVertices[2 * e]!, 3 * t.edgeVertices[2 * e + 1]!];
      return Math.hypot(...[0, 1, 2].map((d) => crate.positions[a + d]! - crate.positions[b + d]!));
    });
    const sum = (list: Uint32Array, but: number[]) =>
      [...list].filter((e) => !but.includes(e)).reduce((n, e) => n + length[e]!, 0);
    fc.assert(
      fc.property(fc.nat(t.edgeCount - 1), fc.nat(t.edgeCount - 1), (a, b) => {
        const there = edgePath(crate, pathsFromEdge(crate, length, a as Edge), a as Edge, b as Edge);
        const back = edgePath(crate, pathsFromEdge(crate, length, b as Edge), b as Edge, a as Edge);
        expect(there).toContain(a);
        expect(there).toContain(b);
        expect(sum(there, [a, b])).toBeCloseTo(sum(back, [a, b]), 9);
      }),
    );
  });
});

describe("transforms", () => {
  const matrix = fc
    .tuple(
      fc.tuple(
        fc.double({ min: -5, max: 5, noNaN: true }),
        fc.double({ min: -5, max: 5, noNaN: true }),
        fc.double({ min: -5, max: 5, noNaN: true }),
      ),
      fc.integer({ min: -180, max: 180 }),
      fc.tuple(
        fc.double({ min: 0.2, max: 3, noNaN: true }),
        fc.double({ min: 0.2, max: 3, noNaN: true }),
        fc.double({ min: 0.2, max: 3, noNaN: true }),
      ),
    )
    .map(([shift, turn, scale]) => placed(shift, turn, scale));
  const close = (a: ArrayLike<number>, b: ArrayLike<number>) => {
    expect(a.length).toBe(b.length);
    for (let i = 0; i < a.length; i++) expect(a[i]!).toBeCloseTo(b[i]!, 8);
  };

  it("are taken back by their inverses, and done one after the other by their products", () => {
    fc.assert(
      fc.property(matrix, matrix, (a, b) => {
        const p = crate.positions;
        close(transformPoints(inverse(a), transformPoints(a, p)), p);
        close(transformPoints(multiply(a, b), p), transformPoints(a, transformPoints(b, p)));
        expect(determinant(multiply(a, b))).toBeCloseTo(determinant(a) * determinant(b), 8);
        close(multiply(a, inverse(a)), IDENTITY);
      }),
    );
    expect(() => inverse(placed([0, 0, 0], 0, [1, 0, 1]))).toThrow("flattens");
  });

  it("leave a mesh that stays in its place as the same array", () => {
    expect(isIdentity(IDENTITY)).toBe(true);
    expect(worldPositions(crate, IDENTITY)).toBe(crate.positions);
    const moved = placed([1, 2, 3]);
    expect(worldPositions(crate, moved)).toBe(worldPositions(crate, [...moved]));
    expect(worldPositions(crate, moved)[0]).toBe(crate.positions[0]! + 1);
  });
});

describe("points at exactly one position", () => {
  it("get one number, in the order of first appearance, as a table of texts would tell", () => {
    const grid = fc.tuple(fc.constantFrom(0, -0, 1, 0.1, 1e-300), fc.constantFrom(0, 2, -3), fc.constantFrom(0, 0.5));
    fc.assert(
      fc.property(fc.array(grid, { maxLength: 60 }), fc.boolean(), (points, single) => {
        const flat = points.flat();
        const list = single ? Float32Array.from(flat) : Float64Array.from(flat);
        const { of, count } = weldExact(list);
        const numbers = new Map<string, number>();
        const expected = points.map((_, i) => {
          const key = [0, 1, 2].map((d) => list[3 * i + d]! + 0).join();
          if (!numbers.has(key)) numbers.set(key, numbers.size);
          return numbers.get(key)!;
        });
        expect([...of]).toEqual(expected);
        expect(count).toBe(numbers.size);
      }),
    );
  });
});

describe("some faces as a mesh of their own", () => {
  it("keep their corners, materials and places, and no vertex that none of them uses", () => {
    fc.assert(
      fc.property(fc.constantFrom(...demo), fc.array(fc.nat(1000), { minLength: 1, maxLength: 20 }), (mesh, picks) => {
        const faces = Uint32Array.from(new Set(picks.map((p) => p % faceCount(mesh))));
        const { mesh: part, corner } = subMesh(mesh, faces);
        expect(faceCount(part)).toBe(faces.length);
        expect(new Set(part.cornerVertex).size).toBe(vertexCount(part));
        for (let c = 0; c < cornerCount(part); c++) {
          const [v, w] = [3 * part.cornerVertex[c]!, 3 * mesh.cornerVertex[corner[c]!]!];
          for (let d = 0; d < 3; d++) expect(part.positions[v + d]).toBe(mesh.positions[w + d]);
        }
        for (let f = 0; f < faces.length; f++) expect(part.faceMaterial[f]).toBe(mesh.faceMaterial[faces[f]!]);
      }),
    );
  });
});
