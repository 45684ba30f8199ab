import { type Asset, layoutParts, type PartId } from "../layout/asset";
import { trianglesOf } from "../mesh/triangulate";
import { isGood, stretchOf, sumShells } from "./distortion";
import { gather } from "./gather";

/**
 * How a texture lies on every triangle, against the mean of its shell: below 1 squeezed, above 1 stretched; the square
 * root of world area by UV area. NaN for triangles without coordinates or area.
 *
 * @returns by part, one per triangle of `trianglesOf`
 */
export function triangleStretch(asset: Asset, set = 0): Map<PartId, Float32Array> {
  const out = new Map<PartId, Float32Array>();
  const g = gather(asset, set);
  const s = stretchOf(g);
  const sums = sumShells(g, g.shells.length, s);
  let at = 0;
  for (const part of layoutParts(asset)) {
    const t = trianglesOf(part.mesh);
    const values = new Float32Array(t.face.length).fill(Number.NaN);
    const mapped = part.uvSets[set]?.mapped;
    for (let k = 0; mapped && k < t.face.length; k++) {
      if (!((mapped[t.face[k]! >> 3]! >> (t.face[k]! & 7)) & 1)) continue;
      if (isGood(s, at)) values[k] = 1 / Math.sqrt(s.s1[at]! * s.s2[at]! * sums.equalArea2[g.shell[at]!]!);
      at++;
    }
    out.set(part.id, values);
  }
  return out;
}
