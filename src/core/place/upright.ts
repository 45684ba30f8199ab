import { smallestBoxAngle } from "../layout/orient";
import type { ShellMesh } from "../unfold/shell-mesh";

/** A direction on the sheet. */
export type Way = readonly [u: number, v: number];
type Vector = readonly [number, number, number];

/** How a shell lies on the sheet: sums over its triangles, weighted by their area in space. */
export interface Lie {
  /** Where up in space leads on the sheet. */
  readonly up: Way;
  /** Where the way away from who looks leads. */
  readonly back: Way;
  /** How much of it faces up, less what faces down. */
  readonly facing: number;
  /** How long `up` would be if all of it stood upright. */
  readonly most: number;
}

/** Of the length that it would have on an upright shell: a direction that comes to less is none. */
const LEVEL = 0.1;

/**
 * Where up on the form is on the sheet. What lies level has no up of its own: of a lid that is the way away from who looks,
 * of a floor that towards them, as both would lie if they hung on the front side. Nothing where neither leads anywhere.
 */
export function wayUp({ up, back, facing, most }: Lie): Way | null {
  if (Math.sqrt(up[0] ** 2 + up[1] ** 2) > LEVEL * most) return up;
  if (!(Math.sqrt(back[0] ** 2 + back[1] ** 2) > LEVEL * most)) return null;
  return facing < 0 ? [-back[0], -back[1]] : back;
}

/** Radians, counter-clockwise, by which a way is turned away from v. */
export const offUpright = ([u, v]: Way): number => Math.atan2(-u, v) + 0;

/**
 * How a shell lies. Source: the Jacobian of each triangle's map, as in P. Sander, J. Snyder, S. Gortler, H. Hoppe, Texture
 * mapping progressive meshes (2001), applied to directions in space.
 *
 * @param uv 2 per point @param up unit @param back away from who looks, unit
 */
export function lieOf(
  { triangles, positions: p }: Pick<ShellMesh, "triangles" | "positions">,
  uv: Float64Array,
  up: Vector,
  back: Vector,
): Lie {
  const sums = new Float64Array(6);
  let flat = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!];
    const e = [0, 1, 2].map((d) => p[3 * b + d]! - p[3 * a + d]!) as unknown as Vector;
    const f = [0, 1, 2].map((d) => p[3 * c + d]! - p[3 * a + d]!) as unknown as Vector;
    const [ee, ef, ff] = [dot(e, e), dot(e, f), dot(f, f)];
    const twice = Math.sqrt(Math.max(0, ee * ff - ef * ef));
    if (!(twice > 1e-12 * (ee + ff))) continue;
    const au = uv[2 * b]! - uv[2 * a]!;
    const av = uv[2 * b + 1]! - uv[2 * a + 1]!;
    const bu = uv[2 * c]! - uv[2 * a]!;
    const bv = uv[2 * c + 1]! - uv[2 * a + 1]!;
    for (const [k, way] of [up, back].entries()) {
      const [x, y] = [dot(e, way), dot(f, way)];
      // Its share on the triangle, by both sides of that; times the area.
      const i = (ff * x - ef * y) / (2 * twice);
      const j = (ee * y - ef * x) / (2 * twice);
      sums[2 * k]! += i * au + j * bu;
      sums[2 * k + 1]! += i * av + j * bv;
    }
    sums[4]! +=
      ((e[1] * f[2] - e[2] * f[1]) * up[0] +
        (e[2] * f[0] - e[0] * f[2]) * up[1] +
        (e[0] * f[1] - e[1] * f[0]) * up[2]) /
      2;
    sums[5]! += twice / 2;
    flat += Math.abs(au * bv - av * bu) / 2;
  }
  const area = sums[5]!;
  return {
    up: [sums[0]!, sums[1]!],
    back: [sums[2]!, sums[3]!],
    facing: sums[4]!,
    most: area > 0 ? Math.sqrt(area * flat) : 0,
  };
}

const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** Radians within which a shell is stood square rather than quite upright. */
const SQUARE = (15 * Math.PI) / 180;

/**
 * The angle that stands a shell upright: square in its smallest box where up lies within 15 degrees of that, so that its sides
 * stay level; else up exactly.
 */
export function uprightTurn(uv: Float64Array, way: Way, square: boolean): number {
  const exact = -offUpright(way);
  if (!square) return exact;
  const box = smallestBoxAngle(uv);
  const near = box + (Math.PI / 2) * Math.round((exact - box) / (Math.PI / 2));
  const off = near - exact;
  return Math.abs(off) <= SQUARE ? near : exact;
}
