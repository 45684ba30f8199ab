import type { Asset } from "../core/layout/asset";
import { layoutFromCorners, structureOf } from "../core/layout/layout";
import type { Shell } from "../core/mesh/indices";
import { meshFromPolygons, type PolyMesh } from "../core/mesh/poly-mesh";
import { topologyOf } from "../core/mesh/topology";
import { pointsOf, shellMesh } from "../core/unfold/shell-mesh";
import { assetOf, layoutAt, shapeAt } from "./assets";

// Small shells that are told by formulas, and what became of them.

export type Place = readonly [number, number];

/** Quads in columns and rows, its points anywhere in space and on the sheet. */
export function patch(
  columns: number,
  rows: number,
  space: (i: number, j: number) => readonly [number, number, number],
  sheet: (i: number, j: number) => Place,
): { mesh: PolyMesh; asset: Asset } {
  const points: number[] = [];
  const places: Place[] = [];
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i <= columns; i++) {
      points.push(...space(i, j));
      places.push(sheet(i, j));
    }
  const faces: number[][] = [];
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const a = j * (columns + 1) + i;
      faces.push([a, a + 1, a + columns + 2, a + columns + 1]);
    }
  const mesh = meshFromPolygons(Float64Array.from(points), faces);
  const uv = Float64Array.from([...mesh.cornerVertex].flatMap((v) => places[v]!));
  return { mesh, asset: assetOf(mesh, layoutFromCorners(mesh, uv)) };
}

/** The first shell of an asset, and its points. */
export const shellOf = (asset: Asset) => {
  const { mesh } = shapeAt(asset);
  const layout = layoutAt(asset);
  const form = shellMesh(mesh, mesh.positions, layout, 0 as Shell);
  return { form, uv: pointsOf(form, layout) };
};

/** Coordinates by vertex: one shell has one point for each. */
export function byVertex(asset: Asset): Place[] {
  const { mesh } = shapeAt(asset);
  const layout = layoutAt(asset);
  const { cornerWedge } = structureOf(mesh, layout);
  const out: Place[] = [];
  mesh.cornerVertex.forEach((v, c) => {
    out[v] = [layout.uv[2 * cornerWedge[c]!]!, layout.uv[2 * cornerWedge[c]! + 1]!];
  });
  return out;
}

export const edgeBetween = (mesh: PolyMesh, a: number, b: number): number => {
  const { edgeVertices, edgeCount } = topologyOf(mesh);
  for (let e = 0; e < edgeCount; e++) {
    const [v, w] = [edgeVertices[2 * e], edgeVertices[2 * e + 1]];
    if ((v === a && w === b) || (v === b && w === a)) return e;
  }
  throw new Error("These vertices share no edge.");
};
