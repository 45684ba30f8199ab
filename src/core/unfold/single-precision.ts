import { layoutArea, signedArea } from "./area";
import type { ShellMesh } from "./shell-mesh";

/** Of a shell's area in space, what a triangle has at least that is worth a word: less is a needle. */
const WORTH = 1e-12;

/**
 * Triangles of a layout that turn over or lose their area when its points are rounded to single precision, as files hold
 * them. Needles without area in space are left out. Linear time.
 *
 * @param uv 2 a point, where they will stand
 */
export function lostInSingle({ triangles, positions: p }: ShellMesh, uv: Float64Array): number {
  const rounded = uv.map(Math.fround);
  const side = layoutArea(triangles, uv) < 0 ? -1 : 1;
  const squares = new Float64Array(triangles.length / 3);
  let total = 0;
  let lost = 0;
  for (let t = 0; t < squares.length; t++) {
    const [a, b, c] = [3 * triangles[3 * t]!, 3 * triangles[3 * t + 1]!, 3 * triangles[3 * t + 2]!];
    const [ux, uy, uz] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
    const [vx, vy, vz] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
    squares[t] = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
    total += squares[t]!;
  }
  for (let t = 0; t < squares.length; t++)
    if (squares[t]! > WORTH * total && !(side * signedArea(rounded, triangles, 3 * t) > 0)) lost++;
  return lost;
}
