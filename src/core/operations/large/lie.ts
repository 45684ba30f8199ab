import type { Asset, PlacedShape } from "../../layout/asset";
import { type Layout, structureOf } from "../../layout/layout";
import type { Shell } from "../../mesh/indices";
import { worldPositions } from "../../mesh/transform";
import { lieOf, uprightTurn, type Way, wayUp } from "../../place/upright";
import { backOf, upOf } from "../../seams/visibility";
import { pointsOf, type ShellMesh, shellMesh } from "../../unfold/shell-mesh";
import type { ShellAt } from "../place/shells-at";
import type { Up } from "../place/ups";

type Vector = readonly [number, number, number];
const AXES: Readonly<Record<string, Vector>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

function upVector(asset: Asset, up: Up): Vector {
  if (up === "as the asset") return upOf(asset);
  const [x, y, z] = AXES[up.at(-1)!]!;
  return up.length > 1 ? [-x, -y, -z] : [x, y, z];
}

/** Forms of shells one after another: what is written on while one is made is made once for each layout. */
export function formsOf(): (shape: PlacedShape, layout: Layout, shell: Shell) => ShellMesh {
  const scratch = new Map<Layout, Int32Array>();
  return (shape, layout, shell) => {
    const { mesh, metric } = shape;
    const own = scratch.get(layout) ?? new Int32Array(structureOf(mesh, layout).wedgeCount).fill(-1);
    scratch.set(layout, own);
    return shellMesh(mesh, worldPositions(mesh, metric), layout, shell, own);
  };
}

/** Where up is on the sheet of shells. */
export function waysUp(asset: Asset, up: Up, shells: readonly ShellAt[]): Array<Way | null> {
  const [way, back, formOf] = [upVector(asset, up), backOf(asset), formsOf()];
  return shells.map(({ shape, layout, shell, uv }) => wayUp(lieOf(formOf(shape, layout, shell), uv, way, back)));
}

/** Radians off upright within which a shell stands so. */
const STANDS = Math.PI / 180;

/** Tells whether a shell stands upright, square in its box or exactly. */
export function standing(asset: Asset): (shape: PlacedShape, layout: Layout, shell: Shell) => boolean {
  const [up, back, formOf] = [upOf(asset), backOf(asset), formsOf()];
  return (shape, layout, shell) => {
    const form = formOf(shape, layout, shell);
    const uv = pointsOf(form, layout);
    const way = wayUp(lieOf(form, uv, up, back));
    return way !== null && Math.abs(uprightTurn(uv, way, true)) < STANDS;
  };
}
