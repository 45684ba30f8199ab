import { type Border, BorderGrid, borderDistance } from "./contact";

/** Shells that have coordinates, in the order of the figures, as far as their borders tell. */
export interface ShellBorders {
  readonly count: number;
  /** u0, v0, u1, v1 of every shell. */
  readonly box: Float64Array;
  readonly uvArea: Float64Array;
  /** 1 for shells that surely do not lie over themselves. */
  readonly simple: Uint8Array;
  /** For shells that lie right on an earlier one, that one; else the shell itself. */
  readonly twin: Uint32Array;
  border(shell: number): Border;
}

/** Two shells near each other, or on one another; a === b for one over itself. */
export interface NearPair {
  readonly a: number;
  readonly b: number;
  /** Distance of their borders; Infinity beyond the reach. */
  readonly gap: number;
  /** Area they share, in tiles; null while only their triangles can tell. */
  readonly area: number | null;
}

/** Pairs whose boxes are near each other beyond which a layout is a heap, known by its coverage alone: in all, and by shell. */
const MOST_PAIRS = 120_000;
const MOST_EACH = 64;

/**
 * Pairs of shells that are near each other or share area, as far as one of them is among `fresh`. Two shells whose
 * borders do not meet share nothing, or one lies wholly inside the other.
 *
 * @param reach how far gaps are looked for
 * @returns null when there are too many
 */
export function nearShells(s: ShellBorders, fresh: Uint8Array, reach: number): NearPair[] | null {
  const pairs = pairsOfBoxes(s, fresh, reach);
  if (!pairs) return null;
  const grids = new Map<number, BorderGrid>();
  const gridOf = (shell: number): BorderGrid => {
    let grid = grids.get(shell);
    if (!grid) {
      grid = new BorderGrid(s.border(shell).segments, reach / 2);
      grids.set(shell, grid);
    }
    return grid;
  };
  const out: NearPair[] = [];
  for (let a = 0; a < s.count; a++)
    if (fresh[a] && !s.simple[a]) out.push({ a, b: a, gap: Number.POSITIVE_INFINITY, area: null });
  for (let k = 0; k < pairs.length; k += 2) {
    const pair = compare(s, pairs[k]!, pairs[k + 1]!, gridOf, reach);
    if (pair) out.push(pair);
  }
  return out;
}

function compare(
  s: ShellBorders,
  a: number,
  b: number,
  gridOf: (shell: number) => BorderGrid,
  reach: number,
): NearPair | null {
  if (s.twin[a] === s.twin[b]) return { a, b, gap: 0, area: Math.min(s.uvArea[a]!, s.uvArea[b]!) };
  const apart = distanceOfBoxes(s.box, a, b) > 0;
  const [few, many] = s.border(a).next.length < s.border(b).next.length ? [a, b] : [b, a];
  // A closed shell has no border.
  const { gap, cross } = s.border(few).next.length
    ? borderDistance(s.border(few), s.border(many), gridOf(many), s.box.subarray(4 * many, 4 * many + 4), reach)
    : { gap: Number.POSITIVE_INFINITY, cross: false };
  if (!apart && (cross || !s.simple[a] || !s.simple[b])) return { a, b, gap, area: null };
  // Shells that touch and do not cross lie beside each other; those that do not touch may lie in one another.
  const [inner, outer] = s.uvArea[a]! < s.uvArea[b]! ? [a, b] : [b, a];
  const [u, v] = s.border(inner).segments;
  if (!apart && gap > 0 && gridOf(outer).holds(u!, v!)) return { a, b, gap, area: s.uvArea[inner]! };
  return gap < Number.POSITIVE_INFINITY ? { a, b, gap, area: 0 } : null;
}

/** Distance of two boxes in the wider direction: above 0 when they do not meet. */
function distanceOfBoxes(box: Float64Array, a: number, b: number): number {
  const du = Math.max(box[4 * a]! - box[4 * b + 2]!, box[4 * b]! - box[4 * a + 2]!);
  const dv = Math.max(box[4 * a + 1]! - box[4 * b + 3]!, box[4 * b + 1]! - box[4 * a + 3]!);
  return Math.max(du, dv);
}

/** Pairs whose boxes are within reach, one of them fresh, two numbers each; null when there are too many. */
function pairsOfBoxes({ count, box }: ShellBorders, fresh: Uint8Array, reach: number): number[] | null {
  const out: number[] = [];
  const order = Uint32Array.from({ length: count }, (_, i) => i).sort((a, b) => box[4 * a]! - box[4 * b]! || a - b);
  const freshOnes = fresh.reduce((n, x) => n + x, 0);
  const most = Math.max(MOST_PAIRS, MOST_EACH * count);
  const note = (a: number, b: number): boolean => {
    if (distanceOfBoxes(box, a, b) <= reach) out.push(Math.min(a, b), Math.max(a, b));
    return out.length <= 2 * most;
  };
  // A few are compared with all; many are swept in the order of their left sides.
  if (freshOnes < 32) {
    for (let a = 0; a < count; a++)
      for (let b = 0; fresh[a] && b < count; b++) if (a !== b && !(fresh[b] && b < a) && !note(a, b)) return null;
    return out;
  }
  for (let i = 0; i < count; i++) {
    const a = order[i]!;
    const to = box[4 * a + 2]! + reach;
    for (let j = i + 1; j < count && box[4 * order[j]!]! <= to; j++) {
      const b = order[j]!;
      if ((fresh[a] || fresh[b]) && !note(a, b)) return null;
    }
  }
  return out;
}
