import type { Asset, PlacedShape } from "../../layout/asset";
import { type Layout, structureOf } from "../../layout/layout";
import type { Shell } from "../../mesh/indices";
import { worldPositions } from "../../mesh/transform";
import { type Lie, lieOf, uprightTurn, type Way, wayUp } from "../../place/upright";
import { backOf, upOf } from "../../seams/visibility";
import { pointsOf, shellMesh } from "../../unfold/shell-mesh";
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

/** Radians off upright within which a shell stands so. */
const STANDS = Math.PI / 180;

/** Tells whether a shell stands upright, square in its box or exactly. */
export function standing(asset: Asset): (shape: PlacedShape, layout: Layout, shell: Shell) => boolean {
  const [up, back] = [upOf(asset), backOf(asset)];
  return (shape, layout, shell) => {
    const form = shellMesh(shape.mesh, worldPositions(shape.mesh, shape.metric), layout, shell);
    const uv = pointsOf(form, layout);
    const way = wayUp(lieOf(form, uv, up, back));
    return way !== null && Math.abs(uprightTurn(uv, way, true)) < STANDS;
  };
}
