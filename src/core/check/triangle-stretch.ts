import { type Asset, type ShapeId, shapesOf, type UvSetId } from "../layout/asset";
import { structureOf } from "../layout/layout";
import { trianglesOf } from "../mesh/triangulate";
import { type Figures, figuresOfAsset, layoutIn } from "./figures";
import { isGood } from "./shape-figures";

/** What is painted: the change of area, of angles, or whichever of the two is larger. */
export const STRETCH_KINDS = ["area", "angle", "both"] as const;
export type StretchKind = (typeof STRETCH_KINDS)[number];

/**
 * How a texture lies on every triangle. Area: the square root of world area by UV area against the mean of its shell,
 * below 1 squeezed and above 1 stretched. Angle: the ratio of the singular values, 1 where angles are kept. Both: the
 * one farther from 1. NaN for triangles without coordinates, and Infinity for those without area in UV.
 *
 * @returns by shape, one per triangle of `trianglesOf`
 */
export function triangleStretch(
  asset: Asset,
  set: UvSetId,
  kind: StretchKind = "area",
  figures: Figures = figuresOfAsset(asset, set),
): Map<ShapeId, Float32Array> {
  const out = new Map<ShapeId, Float32Array>();
  for (const shape of shapesOf(asset)) {
    const f = figures.get(shape.id);
    if (!f) continue;
    const t = trianglesOf(shape.mesh);
    const { faceShell } = structureOf(shape.mesh, layoutIn(shape, set));
    const values = new Float32Array(t.face.length).fill(Number.NaN);
    const { s1, s2, solid } = f.triangle;
    for (let k = 0; k < values.length; k++) {
      const shell = faceShell[t.face[k]!]!;
      if (!f.mapped[shell] || !solid[k]) continue;
      // A face that has lost its area is the worst there is, not one that looks perfect.
      if (!isGood(f.triangle, k)) values[k] = Infinity;
      else {
        const area = 1 / Math.sqrt(s1[k]! * s2[k]! * f.equalArea2[shell]!);
        const angle = s1[k]! / s2[k]!;
        values[k] = kind === "area" ? area : kind === "angle" ? angle : larger(area, angle);
      }
    }
    out.set(shape.id, values);
  }
  return out;
}

const larger = (area: number, angle: number): number => (Math.max(area, 1 / area) >= angle ? area : angle);
