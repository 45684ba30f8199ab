import { borderLengths, type ShellMesh } from "../unfold/shell-mesh";
import type { Spacing } from "./quad-grid";

/** Of the border's length: how near two corners may be. */
const APART = 0.05;

/**
 * The four corners of a shell with one border: where it turns most in space, in turn about it.
 *
 * @param loop its border @returns places in the loop, ascending; null where it turns at fewer than four
 */
export function fourCorners(shell: ShellMesh, loop: readonly number[]): number[] | null {
  const lengths = borderLengths(shell, loop);
  const start = new Float64Array(loop.length + 1);
  for (let i = 0; i < loop.length; i++) start[i + 1] = start[i]! + lengths[i]!;
  const whole = start[loop.length]!;
  const inner = innerAngles(shell);
  const order = [...loop.keys()].sort((a, b) => inner[loop[a]!]! - inner[loop[b]!]! || a - b);
  const found: number[] = [];
  for (const i of order) {
    const angle = inner[loop[i]!]!;
    if (found.length === 4 && angle > inner[loop[found[3]!]!]! + SHARPER) break;
    if (angle > STRAIGHT) break;
    const isNear = found.some((k) => {
      const far = Math.abs(start[i]! - start[k]!);
      return Math.min(far, whole - far) < APART * whole;
    });
    if (!isNear) found.push(i);
  }
  // A fifth that is about as sharp: it is as much a pentagon, or round.
  return found.length === 4 ? found.sort((a, b) => a - b) : null;
}

/** By how much the four corners are sharper than anything else, radians. */
const SHARPER = (15 * Math.PI) / 180;

/** From this angle on a border does not turn, radians. */
const STRAIGHT = (150 * Math.PI) / 180;

/** The sum of the angles of the triangles at every point. */
function innerAngles({ triangles, positions: p }: ShellMesh): Float64Array {
  const out = new Float64Array(p.length / 3);
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [a, b, c] = [3 * triangles[t + k]!, 3 * triangles[t + ((k + 1) % 3)]!, 3 * triangles[t + ((k + 2) % 3)]!];
      const [ux, uy, uz] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
      const [vx, vy, vz] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
      const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
      out[a / 3]! += Math.atan2(Math.sqrt(x * x + y * y + z * z), ux * vx + uy * vy + uz * vz);
    }
  return out;
}

/**
 * The border of a shell as a rectangle: sides between its corners straight, opposite ones as long as the mean of both, with
 * the points of each spaced as in space, or evenly.
 *
 * @param corners places in the loop, ascending @returns 2 per point of the loop, counter-clockwise from the first corner on
 */
export function rectangleBorder(
  shell: ShellMesh,
  loop: readonly number[],
  corners: readonly number[],
  spacing: Spacing,
): Float64Array {
  const lengths = borderLengths(shell, loop);
  const sides = corners.map((from, k) => {
    const to = corners[(k + 1) % 4]!;
    const places: number[] = [];
    for (let i = from; i !== to; i = (i + 1) % loop.length) places.push(i);
    return { places, length: places.reduce((sum, i) => sum + lengths[i]!, 0) };
  });
  const [width, height] = [0, 1].map((k) => (sides[k]!.length + sides[k + 2]!.length) / 2) as [number, number];
  const at = (k: number, share: number): [number, number] =>
    [
      [share * width, 0],
      [width, share * height],
      [(1 - share) * width, height],
      [0, (1 - share) * height],
    ][k] as [number, number];
  const out = new Float64Array(2 * loop.length);
  sides.forEach(({ places, length }, k) => {
    let gone = 0;
    places.forEach((i, n) => {
      const [u, v] = at(k, spacing === "even" ? n / places.length : gone / (length || 1));
      out[2 * i] = u;
      out[2 * i + 1] = v;
      gone += lengths[i]!;
    });
  });
  return out;
}
