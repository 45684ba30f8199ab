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
  let upU = 0;
  let upV = 0;
  let backU = 0;
  let backV = 0;
  let facing = 0;
  let area = 0;
  let flat = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const a = triangles[t]!;
    const b = triangles[t + 1]!;
    const c = triangles[t + 2]!;
    const ex = p[3 * b]! - p[3 * a]!;
    const ey = p[3 * b + 1]! - p[3 * a + 1]!;
    const ez = p[3 * b + 2]! - p[3 * a + 2]!;
    const fx = p[3 * c]! - p[3 * a]!;
    const fy = p[3 * c + 1]! - p[3 * a + 1]!;
    const fz = p[3 * c + 2]! - p[3 * a + 2]!;
    const nx = ey * fz - ez * fy;
    const ny = ez * fx - ex * fz;
    const nz = ex * fy - ey * fx;
    const ee = ex * ex + ey * ey + ez * ez;
    const ff = fx * fx + fy * fy + fz * fz;
    const twice = Math.sqrt(nx * nx + ny * ny + nz * nz);
    if (!(twice > 1e-12 * (ee + ff))) continue;
    const ef = ex * fx + ey * fy + ez * fz;
    const au = uv[2 * b]! - uv[2 * a]!;
    const av = uv[2 * b + 1]! - uv[2 * a + 1]!;
    const bu = uv[2 * c]! - uv[2 * a]!;
    const bv = uv[2 * c + 1]! - uv[2 * a + 1]!;
    // A direction's share on the triangle, by both sides of that; times the area.
    const eUp = ex * up[0] + ey * up[1] + ez * up[2];
    const fUp = fx * up[0] + fy * up[1] + fz * up[2];
    const eBack = ex * back[0] + ey * back[1] + ez * back[2];
    const fBack = fx * back[0] + fy * back[1] + fz * back[2];
    const half = 1 / (2 * twice);
    const i = half * (ff * eUp - ef * fUp);
    const j = half * (ee * fUp - ef * eUp);
    const k = half * (ff * eBack - ef * fBack);
    const l = half * (ee * fBack - ef * eBack);
    upU += i * au + j * bu;
    upV += i * av + j * bv;
    backU += k * au + l * bu;
    backV += k * av + l * bv;
    facing += (nx * up[0] + ny * up[1] + nz * up[2]) / 2;
    area += twice / 2;
    flat += Math.abs(au * bv - av * bu) / 2;
  }
  return { up: [upU, upV], back: [backU, backV], facing, most: area > 0 ? Math.sqrt(area * flat) : 0 };
}

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
