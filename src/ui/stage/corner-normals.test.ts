import { describe, expect, it } from "vitest";
import { meshFromPolygons, type PolyMesh } from "@/core/mesh/poly-mesh";
import { trianglesOf } from "@/core/mesh/triangulate";
import { fillCornerNormals } from "./corner-normals";

/** Normals of all triangle corners, three numbers each. */
function normals(mesh: PolyMesh): number[][] {
  const { corners } = trianglesOf(mesh);
  const out = new Int8Array(4 * corners.length);
  for (const _ of fillCornerNormals(mesh, corners, out));
  return Array.from(corners, (_, k) => [0, 1, 2].map((i) => out[4 * k + i]! / 127));
}

/** Two squares that meet at an edge along y, the second leaning down by some degrees. */
function roof(degrees: number): PolyMesh {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  const points = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 1 + c, 0, -s, 1 + c, 1, -s];
  return meshFromPolygons(points, [
    [0, 1, 2, 3],
    [1, 4, 5, 2],
  ]);
}

describe("normals to shade with", () => {
  it("are smooth over a gentle edge: both faces have the same where they meet", () => {
    const mesh = roof(30);
    const all = normals(mesh);
    const { corners } = trianglesOf(mesh);
    const half = (15 * Math.PI) / 180;
    all.forEach((n, k) => {
      const v = mesh.cornerVertex[corners[k]!]!;
      expect(Math.hypot(...n)).toBeCloseTo(1, 1);
      if (v === 1 || v === 2) expect(n[0]).toBeCloseTo(Math.sin(half), 1);
      if (v === 0 || v === 3) expect(n).toEqual([0, 0, 1]);
    });
  });

  it("are each face's own over a sharp edge", () => {
    const all = normals(roof(100));
    const { face } = trianglesOf(roof(100));
    all.forEach((n, k) => {
      expect(n[2]).toBeCloseTo(face[Math.floor(k / 3)] === 0 ? 1 : Math.cos((100 * Math.PI) / 180), 1);
    });
  });
});
