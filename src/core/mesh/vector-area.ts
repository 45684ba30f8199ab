/**
 * Writes twice the area of a polygon as a vector along its normal: of a bent one, the sum of its triangles'.
 *
 * @param points 3 per point
 * @param vertices list of points; the polygon is its entries `from` to `to`
 * @param out three numbers
 */
export function writeVectorArea(
  points: Float64Array,
  vertices: Uint32Array,
  from: number,
  to: number,
  out: Float64Array,
): void {
  const o = 3 * vertices[from]!;
  const ox = points[o]!;
  const oy = points[o + 1]!;
  const oz = points[o + 2]!;
  let [x, y, z] = [0, 0, 0];
  for (let i = from + 1; i + 1 < to; i++) {
    const a = 3 * vertices[i]!;
    const b = 3 * vertices[i + 1]!;
    const ax = points[a]! - ox;
    const ay = points[a + 1]! - oy;
    const az = points[a + 2]! - oz;
    const bx = points[b]! - ox;
    const by = points[b + 1]! - oy;
    const bz = points[b + 2]! - oz;
    x += ay * bz - az * by;
    y += az * bx - ax * bz;
    z += ax * by - ay * bx;
  }
  out[0] = x;
  out[1] = y;
  out[2] = z;
}
