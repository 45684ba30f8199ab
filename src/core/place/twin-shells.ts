import { length3 } from "../numeric/length";
import { type FaceNet, faceNet, matchedPoints } from "./face-match";

/** A shell as twins are looked for. */
export interface TwinShell {
  readonly net: FaceNet;
  /** 3 per point, in space. */
  readonly positions: Float64Array;
  /** A number that twins share, but for rounding. */
  readonly size: number;
  /** Two points of an edge from which matches are tried: of its border, where it has one. */
  readonly seed: readonly [number, number];
  readonly isBorder: boolean;
}

/** How one shell lies on another. */
export interface Match {
  /** By point of the one: that of the other. */
  readonly images: Uint32Array;
  readonly mirrored: boolean;
}

export function twinShell(faces: ReadonlyArray<readonly number[]>, positions: Float64Array): TwinShell {
  const points = positions.length / 3;
  const net = faceNet(faces, points);
  let size = 0;
  let seed: readonly [number, number] = [faces[0]![0]!, faces[0]![1]!];
  let isBorder = false;
  for (const list of faces)
    list.forEach((a, k) => {
      const b = list[(k + 1) % list.length]!;
      size += edge(positions, a, b);
      if (isBorder || net.across.has(b * points + a)) return;
      seed = [a, b];
      isBorder = true;
    });
  return { net, positions, size, seed, isBorder };
}

const edge = (p: Float64Array, a: number, b: number): number =>
  length3(p[3 * a]! - p[3 * b]!, p[3 * a + 1]! - p[3 * b + 1]!, p[3 * a + 2]! - p[3 * b + 2]!);

/** Whether two shells may be twins at all, told quickly. */
export const mayBeTwins = (one: TwinShell, other: TwinShell, within: number): boolean =>
  one.net.points === other.net.points &&
  one.net.faces.length === other.net.faces.length &&
  one.isBorder === other.isBorder &&
  Math.abs(one.size - other.size) <= within * Math.max(one.size, other.size);

/**
 * How one shell lies on another that has the same faces and the same lengths, whatever their numbers: unmirrored where that
 * can be, and of several ways that in which it is turned least in space.
 *
 * @param within how far lengths may differ, by their size @param mayMirror whether it may lie mirrored
 */
export function twinMatch(one: TwinShell, other: TwinShell, within: number, mayMirror: boolean): Match | null {
  if (!mayBeTwins(one, other, within)) return null;
  const fits = (a: number, b: number, c: number, d: number): boolean => {
    const [own, its] = [edge(one.positions, a, b), edge(other.positions, c, d)];
    return Math.abs(own - its) <= within * Math.max(own, its);
  };
  for (const mirrored of mayMirror ? [false, true] : [false]) {
    let best: Uint32Array | null = null;
    let least = Infinity;
    for (const to of seedsOf(other, mirrored)) {
      if (!fits(one.seed[0], one.seed[1], to[0], to[1])) continue;
      const images = matchedPoints(one.net, other.net, one.seed, to, mirrored, fits);
      const off = images ? turnedBy(one.positions, other.positions, images) : Infinity;
      if (off >= least * (1 - 1e-9)) continue;
      least = off;
      best = images;
    }
    if (best) return { images: best, mirrored };
  }
  return null;
}

/** Edges that the seed of a twin may match, the way it is gone. */
function* seedsOf({ net, isBorder }: TwinShell, mirrored: boolean): Generator<readonly [number, number]> {
  for (const list of net.faces)
    for (let k = 0; k < list.length; k++) {
      const [a, b] = [list[k]!, list[(k + 1) % list.length]!];
      if (isBorder && net.across.has(b * net.points + a)) continue;
      yield mirrored ? [b, a] : [a, b];
    }
}

/** How far points lie from their images when both shells are laid middle on middle: nothing where they only stand elsewhere. */
function turnedBy(p: Float64Array, q: Float64Array, images: Uint32Array): number {
  const middle = (points: Float64Array, d: number) => {
    let sum = 0;
    for (let i = d; i < points.length; i += 3) sum += points[i]!;
    return (3 * sum) / points.length;
  };
  const by = [0, 1, 2].map((d) => middle(q, d) - middle(p, d));
  let sum = 0;
  for (let i = 0; i < images.length; i++)
    for (let d = 0; d < 3; d++) sum += (q[3 * images[i]! + d]! - p[3 * i + d]! - by[d]!) ** 2;
  return sum;
}
