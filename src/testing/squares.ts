import type { Asset } from "../core/layout/asset";
import { layoutFromCorners } from "../core/layout/layout";
import { meshFromPolygons } from "../core/mesh/poly-mesh";
import { assetOf } from "./assets";

/** Squares of one world size, each a shell, with these corners in UV: u, v, width, height. */
export function squares(list: ReadonlyArray<readonly [number, number, number, number]>): Asset {
  const positions = list.flatMap((_, i) => [3 * i, 0, 0, 3 * i + 1, 0, 0, 3 * i + 1, 1, 0, 3 * i, 1, 0]);
  const mesh = meshFromPolygons(
    positions,
    list.map((_, i) => [4 * i, 4 * i + 1, 4 * i + 2, 4 * i + 3]),
  );
  const uv = list.flatMap(([u, v, w, h]) => [u, v, u + w, v, u + w, v + h, u, v + h]);
  return assetOf(mesh, layoutFromCorners(mesh, Float64Array.from(uv)));
}
