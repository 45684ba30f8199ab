import type { Asset, ShapeId } from "@/core/layout/asset";
import { SHADING_IDS } from "../session/look-choices";
import type { BenchState } from "../session/store";
import { pictureOfSwatch } from "../session/swatches";

/** What the stage follows of the bench's state. */
export type Shown = Pick<
  BenchState,
  | "asset"
  | "set"
  | "view"
  | "wires"
  | "seams"
  | "shading"
  | "lightTurn"
  | "seamWidth"
  | "seamColor"
  | "kind"
  | "picked"
  | "preview"
  | "hover"
  | "weights"
  | "hidden"
  | "alone"
  | "stretch"
  | "stretchLimit"
  | "swatchRepeats"
  | "swatch"
  | "partSwatches"
  | "swatchWeight"
  | "relief"
  | "live"
>;

/** Where the light comes from, before the eye: from above and the front, turned about the upright. */
function lightWay(turn: number): number[] {
  const [x, y, z] = [-0.35, 0.6, 0.75];
  const [c, s] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)];
  const length = Math.hypot(x, y, z);
  return [(c * x + s * z) / length, y / length, (c * z - s * x) / length];
}

/** Shapes for which two maps hold different things. */
export const keysOf = <V>(a: ReadonlyMap<ShapeId, V> | undefined, b: ReadonlyMap<ShapeId, V>): Set<ShapeId> => {
  const out = new Set<ShapeId>();
  for (const map of [a, b]) for (const id of map?.keys() ?? []) if (a?.get(id) !== b.get(id)) out.add(id);
  return out;
};

export function meshesDiffer(asset: Asset, old: Asset | null): boolean {
  if (asset.shapes === old?.shapes) return false;
  for (const [id, { mesh }] of asset.shapes) if (old?.shapes.get(id)?.mesh !== mesh) return true;
  return asset.shapes.size !== old?.shapes.size;
}

/** What of a state the faces of both panes look like by, as the shaders have it. */
export const faceLooks = ({ stretchLimit, swatchRepeats, shading, lightTurn, relief, swatch }: Shown) => ({
  range: [1 / stretchLimit, stretchLimit],
  repeats: swatchRepeats,
  // What holds normals: nothing, the pictures of single parts, or the swatch as well.
  relief: relief ? (pictureOfSwatch(swatch) === null ? 1 : 2) : 0,
  shading: SHADING_IDS.indexOf(shading),
  light: lightWay(lightTurn),
});
