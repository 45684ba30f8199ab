import type { Asset } from "../../layout/asset";
import { structureOf } from "../../layout/layout";
import { worldPositions } from "../../mesh/transform";
import { type Lie, lieOf, type Way, wayUp } from "../../place/upright";
import { backOf, upOf } from "../../seams/visibility";
import { shellMesh } from "../../unfold/shell-mesh";
import type { ShellAt } from "../place/shells-at";
import type { Up } from "../place/ups";

type Vector = readonly [number, number, number];
const AXES: Readonly<Record<string, Vector>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

function upVector(asset: Asset, up: Up): Vector {
  if (up === "as the asset") return upOf(asset);
  const [x, y, z] = AXES[up.at(-1)!]!;
  return up.length > 1 ? [-x, -y, -z] : [x, y, z];
}

/** How shells lie, for shells of one shape after another. */
export function liesOf(asset: Asset, up: Up, shells: readonly ShellAt[]): Lie[] {
  const [way, back] = [upVector(asset, up), backOf(asset)];
  const scratch = new Map<string, Int32Array>();
  return shells.map(({ shape, layout, shell, uv }) => {
    const own = scratch.get(shape.id) ?? new Int32Array(structureOf(shape.mesh, layout).wedgeCount).fill(-1);
    scratch.set(shape.id, own);
    return lieOf(shellMesh(shape.mesh, worldPositions(shape.mesh, shape.metric), layout, shell, own), uv, way, back);
  });
}

/** Where up is on the sheet of shells. */
export const waysUp = (asset: Asset, up: Up, shells: readonly ShellAt[]): Array<Way | null> =>
  liesOf(asset, up, shells).map(wayUp);
