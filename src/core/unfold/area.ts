/** Signed area of the triangle whose first point stands at `at` in `triangles`. */
export function signedArea(uv: Float64Array, triangles: Uint32Array, at: number): number {
  const a = 2 * triangles[at]!;
  const b = 2 * triangles[at + 1]!;
  const c = 2 * triangles[at + 2]!;
  return ((uv[b]! - uv[a]!) * (uv[c + 1]! - uv[a + 1]!) - (uv[c]! - uv[a]!) * (uv[b + 1]! - uv[a + 1]!)) / 2;
}

/** Signed area of a layout of triangles, 2 numbers a point. */
export function layoutArea(triangles: Uint32Array, uv: Float64Array): number {
  let area = 0;
  for (let t = 0; t < triangles.length; t += 3) area += signedArea(uv, triangles, t);
  return area;
}
