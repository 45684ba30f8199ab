import { describe, expect, it } from "vitest";
import { meshFromPolygons, type PolyMesh } from "../mesh/poly-mesh";
import { symmetryOf } from "./symmetry";
import { symmetryByConnectivity } from "./symmetry-by-connectivity";

/** A strip of 8 by 5 quads, the middle line along x = 0, with two quads of one half cut when wanted. */
function strip(bend: (x: number, y: number) => [number, number, number], cut = false): PolyMesh {
  const points: number[] = [];
  const faces: number[][] = [];
  for (let j = 0; j <= 5; j++) for (let i = -4; i <= 4; i++) points.push(...bend(i, j));
  const at = (i: number, j: number) => 9 * j + i;
  for (let j = 0; j < 5; j++)
    for (let i = 0; i < 8; i++) {
      const [a, b, c, d] = [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)];
      if (cut && i > 5) faces.push([a, b, c], [a, c, d]);
      else faces.push([a, b, c, d]);
    }
  return meshFromPolygons(points, faces);
}

describe("symmetry by connectivity", () => {
  it("is that by position where places agree", () => {
    const mesh = strip((x, y) => [x, y, 0]);
    const { vertex, face } = symmetryOf(mesh, 0);
    expect(symmetryByConnectivity(mesh, 0)).toEqual({ vertex, face });
  });

  it("finds the halves of a bent strip, where position finds none", () => {
    const posed = strip((x, y) => [x + 0.3 * y, y + (x > 0 ? 0.4 * x : 0), 0.2 * x * y]);
    const plain = symmetryByConnectivity(
      strip((x, y) => [x, y, 0]),
      0,
    );
    expect(symmetryByConnectivity(posed, 0)).toEqual(plain);
    expect(symmetryOf(posed, 0).face.filter((f) => f >= 0).length).toBeLessThan(8);
  });

  it("mirrors twice to itself, and gives no image where the halves differ", () => {
    const { face, vertex } = symmetryByConnectivity(
      strip((x, y) => [x, y, x * y]),
      0,
    );
    face.forEach((g, f) => void expect(face[g]).toBe(f));
    vertex.forEach((w, v) => void expect(vertex[w]).toBe(v));
    const other = symmetryByConnectivity(
      strip((x, y) => [x, y, 0], true),
      0,
    );
    expect(other.face.every((f) => f === -1)).toBe(true);
  });
});
