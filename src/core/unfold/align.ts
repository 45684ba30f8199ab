import { bestFit, turned } from "../layout/orient";
import { layoutArea, signedArea } from "./area";

/** A map without flips at the density and handedness of another layout of its triangles; as it is where that has no area. */
export function sizedLike(triangles: Uint32Array, other: Float64Array, map: Float64Array): Float64Array {
  const area = layoutArea(triangles, other);
  if (!area) return map;
  const scale = Math.sqrt(Math.abs(area) / layoutArea(triangles, map));
  return map.map((x, i) => (area < 0 && i % 2 === 0 ? -x * scale : x * scale));
}

/** A map without flips at the place, turn, handedness and density of another layout of its triangles. */
export function alignedLike(triangles: Uint32Array, other: Float64Array, map: Float64Array): Float64Array {
  if (!layoutArea(triangles, other)) return map;
  const sized = sizedLike(triangles, other, map);
  const upright = turned(sized, bestFit(sized, other).angle);
  // Place: the middles of the two areas meet.
  const from = middle(upright, triangles);
  const to = middle(other, triangles);
  return upright.map((x, i) => x + to[i % 2]! - from[i % 2]!);
}

/** The middle of a layout's area. */
function middle(uv: Float64Array, triangles: Uint32Array): [number, number] {
  let [sum, u, v] = [0, 0, 0];
  for (let t = 0; t < triangles.length; t += 3) {
    const area = signedArea(uv, triangles, t);
    sum += area;
    for (let k = 0; k < 3; k++) {
      u += (area * uv[2 * triangles[t + k]!]!) / 3;
      v += (area * uv[2 * triangles[t + k]! + 1]!) / 3;
    }
  }
  return sum ? [u / sum, v / sum] : [0, 0];
}
