import { length3 } from "../numeric/length";

export type Vector = readonly [number, number, number];

/** Where a projection stands, in world space: three unit axes at right angles, right-handed. */
export interface Frame {
  readonly centre: Vector;
  readonly x: Vector;
  readonly y: Vector;
  /** The axis of a tube, the pole of a sphere, the way to who looks at a plane. */
  readonly z: Vector;
}

/** A projection as it stands about what it projects. */
export interface Standing {
  readonly kind: string;
  /** Where it stands before it is turned by hand, and after. */
  readonly base: Frame;
  readonly frame: Frame;
  /** How far the form reaches from the centre along each axis of the frame. */
  readonly reach: Vector;
  /** Radians off the equator from which on a sphere has caps of their own. */
  readonly capsFrom: number;
  /** Places that its centre may be, by name, in world space. */
  readonly centres: Readonly<Record<Centre, Vector>>;
}

/** Where the centre of a projection may be before it is moved: in the middle of its box, at its foot, at the part's origin. */
export const CENTRES = ["middle", "base", "origin"] as const;
export type Centre = (typeof CENTRES)[number];

/** A way to project, and what it comes to. */
export interface ProjectionWay {
  readonly kind: string;
  /** Mean by area of the symmetric Dirichlet energy, 1 = as in space. */
  readonly stretch: number;
  readonly pieces: number;
  /** Its borders, its parts side by side in the unit square; 4 numbers each. */
  readonly lines?: Float32Array;
}

export const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** The same direction at length 1; `otherwise` for one of no length. */
export function unit(a: Vector, otherwise: Vector = [0, 0, 1]): Vector {
  const length = length3(a[0], a[1], a[2]);
  return length > 0 ? [a[0] / length, a[1] / length, a[2] / length] : otherwise;
}

/** Of some directions the one that is least along another. */
const leastAlong = (z: Vector, list: readonly Vector[]): Vector =>
  list.reduce((best, a) => (Math.abs(dot(a, z)) < Math.abs(dot(best, z)) - 1e-9 ? a : best));

/** Directions that are tried for what stands upright when the axis itself points up. */
const AXES: readonly Vector[] = [
  [0, 0, -1],
  [0, 1, 0],
  [1, 0, 0],
];

/**
 * The frame with an axis, turned about it so that its y points up as far as can be.
 *
 * @param axis of any length but 0 @param up unit
 */
export function frameAbout(axis: Vector, up: Vector, centre: Vector): Frame {
  const z = unit(axis);
  const upright = Math.abs(dot(z, up)) < 0.999 ? up : leastAlong(z, AXES);
  const x = unit(cross(upright, z));
  return { centre, x, y: cross(z, x), z };
}

/** A frame turned about the axes of the world, x first, then y, then z. @param degrees counter-clockwise */
export function turnedFrame(frame: Frame, degrees: Vector): Frame {
  const turn = (a: Vector): Vector => {
    let out: Vector = a;
    for (const k of [0, 1, 2] as const) {
      const angle = (degrees[k] * Math.PI) / 180;
      if (!angle) continue;
      const [c, s] = [Math.cos(angle), Math.sin(angle)];
      const [i, j] = [(k + 1) % 3, (k + 2) % 3];
      const next: [number, number, number] = [...out];
      next[i] = c * out[i]! - s * out[j]!;
      next[j] = s * out[i]! + c * out[j]!;
      out = next;
    }
    return out;
  };
  return { centre: frame.centre, x: turn(frame.x), y: turn(frame.y), z: turn(frame.z) };
}

/** Points in a frame, 3 numbers each. @param world 3 per point */
export function inFrame({ centre, x, y, z }: Frame, world: Float64Array): Float64Array {
  const out = new Float64Array(world.length);
  for (let i = 0; i < world.length; i += 3) {
    const a = world[i]! - centre[0];
    const b = world[i + 1]! - centre[1];
    const c = world[i + 2]! - centre[2];
    out[i] = a * x[0] + b * x[1] + c * x[2];
    out[i + 1] = a * y[0] + b * y[1] + c * y[2];
    out[i + 2] = a * z[0] + b * z[1] + c * z[2];
  }
  return out;
}

/**
 * Turns about the axes of the world, x first, then y, then z, that lead one frame's axes to another's; degrees.
 *
 * Source: Tait-Bryan angles of a rotation matrix, as in G. Slabaugh, Computing Euler angles from a rotation matrix (1999).
 */
export function turnsBetween(from: Pick<Frame, "x" | "y" | "z">, to: Pick<Frame, "x" | "y" | "z">): Vector {
  // Entry (i, j) of the rotation: what it makes of axis j of the world, along axis i.
  const m = (i: number, j: number): number => to.x[i]! * from.x[j]! + to.y[i]! * from.y[j]! + to.z[i]! * from.z[j]!;
  const sine = Math.max(-1, Math.min(1, -m(2, 0)));
  const isUpright = Math.abs(sine) > 1 - 1e-9;
  const x = isUpright ? Math.atan2(sine * m(0, 1), m(1, 1)) : Math.atan2(m(2, 1), m(2, 2));
  const z = isUpright ? 0 : Math.atan2(m(1, 0), m(0, 0));
  return [(x * 180) / Math.PI, (Math.asin(sine) * 180) / Math.PI, (z * 180) / Math.PI];
}

/** A frame turned, by as little as will do, until its z axis points along a way. @param way unit */
export function pointedAlong(frame: Frame, way: Vector): Frame {
  const across = cross(frame.z, way);
  const sine = length3(across[0], across[1], across[2]);
  const cosine = dot(frame.z, way);
  if (sine < 1e-12 && cosine > 0) return frame;
  const about = sine < 1e-12 ? frame.x : unit(across);
  const turn = (a: Vector): Vector => {
    const [k, b] = [dot(about, a) * (1 - cosine), cross(about, a)];
    return [0, 1, 2].map((d) => a[d]! * cosine + b[d]! * sine + about[d]! * k) as unknown as Vector;
  };
  return { centre: frame.centre, x: turn(frame.x), y: turn(frame.y), z: turn(frame.z) };
}
