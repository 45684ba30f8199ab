import type { PlacedShape, ShapeId, UvSetId } from "../layout/asset";
import { structureOf } from "../layout/layout";
import { trianglesOf } from "../mesh/triangulate";
import { layoutIn } from "./figures";
import type { ShapeFigures } from "./shape-figures";

/** What is painted: the change of area, of angles, or whichever of the two is larger. */
export const STRETCH_KINDS = ["area", "angle", "both"] as const;
export type StretchKind = (typeof STRETCH_KINDS)[number];

/**
 * How a texture lies on every triangle. Area: the square root of world area by UV area against the mean of its shell,
 * below 1 squeezed and above 1 stretched. Angle: the ratio of the singular values, 1 where angles are kept. Both: the
 * one farther from 1. NaN for triangles without coordinates, and Infinity for those without area in UV.
 *
 * @param before values of the same triangles of which only some shells are computed again; not changed
 * @returns one per triangle of `trianglesOf`
 */
export function stretchOfShape(
  shape: PlacedShape,
  set: UvSetId,
  kind: StretchKind,
  f: ShapeFigures,
  before?: { readonly values: Float32Array; readonly shells: Iterable<number> },
): Float32Array {
  const t = trianglesOf(shape.mesh);
  const s = structureOf(shape.mesh, layoutIn(shape, set));
  const values = before ? before.values.slice() : new Float32Array(t.face.length);
  const { areaRatio, conformal, solid } = f.triangle;
  for (const shell of before?.shells ?? Array(f.count).keys()) {
    const [from, to] = [s.shellStart[shell]!, s.shellStart[shell + 1]!];
    const isMapped = f.mapped[shell]!;
    for (let n = from; n < to; n++) {
      const face = s.shellFaces[n]!;
      for (let k = t.faceStart[face]!; k < t.faceStart[face + 1]!; k++) {
        const ratio = areaRatio[k]!;
        if (!isMapped || !solid[k]) values[k] = Number.NaN;
        // A face that has lost its area is the worst there is, not one that looks perfect.
        else if (ratio === 0) values[k] = Number.POSITIVE_INFINITY;
        else {
          const area = ratio > 0 ? Math.sqrt(1 / ratio) : Math.sqrt(-ratio);
          values[k] = kind === "area" ? area : kind === "angle" ? conformal[k]! : larger(area, conformal[k]!);
        }
      }
    }
  }
  return values;
}

const larger = (area: number, angle: number): number => (Math.max(area, 1 / area) >= angle ? area : angle);

/** How far a change of scale is from none, either way: 2 for twice and for half. */
const change = (s: number): number => Math.max(s, 1 / s);

/**
 * The triangle that is changed most, over all shapes; null where nothing has coordinates.
 *
 * @param stretch per shape, as of `stretchOfShape`
 */
export function worstTriangle(
  stretch: ReadonlyMap<ShapeId, Float32Array>,
): { readonly shape: ShapeId; readonly triangle: number; readonly value: number } | null {
  let worst: { shape: ShapeId; triangle: number; value: number } | null = null;
  for (const [shape, values] of stretch)
    for (let k = 0; k < values.length; k++) {
      const value = values[k]!;
      if (!(value > 0)) continue;
      if (!worst || change(value) > change(worst.value)) worst = { shape, triangle: k, value };
    }
  return worst;
}
