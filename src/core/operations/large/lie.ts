import type { Asset, PlacedShape } from "../../layout/asset";
import { type Layout, structureOf } from "../../layout/layout";
import { upOfPart, vectorOf } from "../../layout/up";
import type { Shell } from "../../mesh/indices";
import { worldPositions } from "../../mesh/transform";
import { lieOf, uprightTurn, type Way, wayUp } from "../../place/upright";
import { backOf } from "../../seams/visibility";
import { pointsOf, type ShellMesh, shellMesh } from "../../unfold/shell-mesh";
import type { ShellAt } from "../place/shells-at";
import type { Up } from "../place/ups";

/** Up on a shape, and the way away from who looks: for what lies level where up is not the asset's as well. */
function waysOf(asset: Asset, up: Up, shape: PlacedShape): readonly [up: Vector, back: Vector] {
  const way = up === "as the asset" ? upOfPart(asset, shape.parts[0]) : up;
  const axis = way.at(-1);
  const back = axis === asset.up ? backOf(asset) : axis === "z" || (axis === "x" && asset.up === "z") ? TO_Y : FROM_Z;
  return [vectorOf(way), back];
}
type Vector = readonly [number, number, number];
const [TO_Y, FROM_Z]: readonly [Vector, Vector] = [
  [0, 1, 0],
  [0, 0, -1],
];

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
  const formOf = formsOf();
  return shells.map(({ shape, layout, shell, uv }) =>
    wayUp(lieOf(formOf(shape, layout, shell), uv, ...waysOf(asset, up, shape))),
  );
}

/** Radians off upright within which a shell stands so. */
const STANDS = Math.PI / 180;

/** Tells whether a shell stands upright, square in its box or exactly. */
export function standing(asset: Asset): (shape: PlacedShape, layout: Layout, shell: Shell) => boolean {
  const formOf = formsOf();
  return (shape, layout, shell) => {
    const form = formOf(shape, layout, shell);
    const uv = pointsOf(form, layout);
    const way = wayUp(lieOf(form, uv, ...waysOf(asset, "as the asset", shape)));
    return way !== null && Math.abs(uprightTurn(uv, way, true)) < STANDS;
  };
}
