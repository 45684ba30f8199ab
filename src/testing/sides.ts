import type { Asset } from "../core/layout/asset";
import { layoutFromCorners } from "../core/layout/layout";
import { meshFromPolygons } from "../core/mesh/poly-mesh";
import { assetOf } from "./assets";

/** A box of quads of three sizes, each side a shell, side k turned by so many degrees on the sheet. */
export function sides(turns: readonly number[]): Asset {
  const [x, y, z] = [3, 2, 1];
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [i & 1 ? x : 0, i & 2 ? y : 0, i & 4 ? z : 0]);
  // Front, back, right, left, top, bottom, as who looks at each sees them: from its lower left on.
  const faces = [
    [4, 5, 7, 6],
    [1, 0, 2, 3],
    [5, 1, 3, 7],
    [0, 4, 6, 2],
    [6, 7, 3, 2],
    [0, 1, 5, 4],
  ];
  const mesh = meshFromPolygons(corners, faces);
  const far = (a: number, b: number) => Math.hypot(...[0, 1, 2].map((d) => corners[3 * a + d]! - corners[3 * b + d]!));
  const uv = faces.flatMap((f, k) => {
    const [w, h] = [far(f[0]!, f[1]!) / 20, far(f[1]!, f[2]!) / 20];
    const turn = ((turns[k] ?? 0) * Math.PI) / 180;
    return [
      [0, 0],
      [w, 0],
      [w, h],
      [0, h],
    ].flatMap(([u, v]) => [
      0.2 * k + Math.cos(turn) * u! - Math.sin(turn) * v!,
      0.5 + Math.sin(turn) * u! + Math.cos(turn) * v!,
    ]);
  });
  return assetOf(mesh, layoutFromCorners(mesh, Float64Array.from(uv)));
}
