import { length3 } from "../numeric/length";
import { cornerTowards, type FaceNet, matchedPoints } from "./face-match";

/** A shell as twins are looked for. */
export interface TwinShell {
  readonly net: FaceNet;
  /** 3 per point, in space. */
  readonly positions: Float64Array;
  /** Lengths that twins share, but for rounding: of edges, their longest, their squares, its border, and away from its middle. */
  readonly size: number;
  readonly figures: Float64Array;
  /** Two points of an edge from which matches are tried: the longest of its border, where it has one, as few others are like it. */
  readonly seed: readonly [number, number];
  readonly isBorder: boolean;
}

/** How one shell lies on another. */
export interface Match {
  /** By point of the one: that of the other. */
  readonly images: Uint32Array;
  readonly mirrored: boolean;
}

/** @param positions 3 per point of the net */
export function twinShell(net: FaceNet, positions: Float64Array): TwinShell {
  const figures = new Float64Array(7);
  const { point, next } = net;
  let seed: readonly [number, number] = [point[0]!, point[next[0]!]!];
  let isBorder = false;
  let longest = 0;
  for (let c = 0; c < point.length; c++) {
    const a = point[c]!;
    const b = point[next[c]!]!;
    const length = edge(positions, a, b);
    figures[0]! += length;
    figures[1] = Math.max(figures[1]!, length);
    figures[2]! += length * length;
    if (cornerTowards(net, b, a) >= 0) continue;
    figures[3]! += length;
    isBorder = true;
    if (length <= longest) continue;
    longest = length;
    seed = [a, b];
  }
  figures[2] = Math.sqrt(figures[2]!);
  measureAway(positions, figures);
  return { net, positions, size: figures[0]!, figures, seed, isBorder };
}

/** How far its points lie from their middle: in all, by squares, and the farthest. */
function measureAway(p: Float64Array, figures: Float64Array): void {
  const n = p.length / 3;
  let [x, y, z] = [0, 0, 0];
  for (let i = 0; i < p.length; i += 3) {
    x += p[i]! / n;
    y += p[i + 1]! / n;
    z += p[i + 2]! / n;
  }
  for (let i = 0; i < p.length; i += 3) {
    const away = length3(p[i]! - x, p[i + 1]! - y, p[i + 2]! - z);
    figures[4]! += away;
    figures[5]! += away * away;
    figures[6] = Math.max(figures[6]!, away);
  }
  figures[5] = Math.sqrt(figures[5]!);
}

const edge = (p: Float64Array, a: number, b: number): number =>
  length3(p[3 * a]! - p[3 * b]!, p[3 * a + 1]! - p[3 * b + 1]!, p[3 * a + 2]! - p[3 * b + 2]!);

/** Whether two shells may be twins at all, told quickly. */
export function mayBeTwins(one: TwinShell, other: TwinShell, within: number): boolean {
  if (one.net.points !== other.net.points || one.net.start.length !== other.net.start.length) return false;
  if (one.isBorder !== other.isBorder) return false;
  for (let i = 0; i < one.figures.length; i++) {
    const x = one.figures[i]!;
    const y = other.figures[i]!;
    if (Math.abs(x - y) > within * Math.max(x, y)) return false;
  }
  return true;
}

/** A shell whose points lie no farther from their images than this share of its size is not turned. */
const STILL = 1e-7;

/**
 * How one shell lies on another that has the same faces and the same lengths, whatever their numbers: unmirrored where that
 * can be, and of several ways that in which it is turned least in space.
 *
 * @param within how far lengths may differ, by their size @param ways whether it may lie as it is (false) and mirrored (true)
 */
export function twinMatch(one: TwinShell, other: TwinShell, within: number, ways: readonly boolean[]): Match | null {
  if (!mayBeTwins(one, other, within)) return null;
  const fits = (a: number, b: number, c: number, d: number): boolean => {
    const [own, its] = [edge(one.positions, a, b), edge(other.positions, c, d)];
    return Math.abs(own - its) <= within * Math.max(own, its);
  };
  for (const mirrored of ways) {
    let best: Uint32Array | null = null;
    let least = Infinity;
    for (const to of seedsOf(other, mirrored)) {
      const images = matchedPoints(one.net, other.net, one.seed, to, mirrored, fits);
      const off = images ? turnedBy(one.positions, other.positions, images) : Infinity;
      if (off >= least * (1 - 1e-9)) continue;
      least = off;
      best = images;
      // It only stands elsewhere: no way is better.
      if (off <= (STILL * one.size) ** 2) break;
    }
    if (best) return { images: best, mirrored };
  }
  return null;
}

/** Edges that the seed of a twin may match, the way it is gone. */
function* seedsOf({ net, isBorder }: TwinShell, mirrored: boolean): Generator<readonly [number, number]> {
  const { point, next } = net;
  for (let c = 0; c < point.length; c++) {
    const [a, b] = [point[c]!, point[next[c]!]!];
    if (isBorder && cornerTowards(net, b, a) >= 0) continue;
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

/** Ways in which twins may lie on each other. */
export const AS_THEY_ARE: readonly boolean[] = [false];
export const MIRRORED_TOO: readonly boolean[] = [false, true];
export const MIRRORED: readonly boolean[] = [true];
