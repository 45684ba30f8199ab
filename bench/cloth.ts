import { type Asset, shapesOf } from "../src/core/layout/asset";
import type { Layout } from "../src/core/layout/layout";
import { newAsset } from "../src/core/layout/new-asset";
import { meshFromPolygons, type PolyMesh } from "../src/core/mesh/poly-mesh";

/** A cloth of n x n quads with folds in it, or of twice as many triangles: one disk. */
export function clothMesh(n: number, corners: 3 | 4 = 4): PolyMesh {
  const points: number[] = [];
  const faces: number[][] = [];
  for (let j = 0; j <= n; j++)
    for (let i = 0; i <= n; i++)
      points.push(
        Math.fround(i / n),
        Math.fround(j / n),
        Math.fround(0.12 * Math.sin((9 * i) / n) * Math.cos((7 * j) / n)),
      );
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i;
      if (corners === 4) faces.push([a, a + 1, a + n + 2, a + n + 1]);
      else faces.push([a, a + 1, a + n + 2], [a, a + n + 2, a + n + 1]);
    }
  return meshFromPolygons(points, faces);
}

/** An asset of one mesh, with a layout if there is one. */
export const assetOf = (mesh: PolyMesh, layout?: Layout): Asset =>
  newAsset({ id: "cloth", name: "cloth", source: { name: "cloth.made", format: "made" } }, [
    { id: "p1", name: "Cloth", mesh, layouts: layout ? [layout] : [] },
  ]);

export const meshOf = (asset: Asset): PolyMesh => shapesOf(asset)[0]!.mesh;
