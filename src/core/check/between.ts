import { type Coverage, coverageOf } from "./coverage";
import { leastGap } from "./gaps";
import { type NearPair, nearShells } from "./near-shells";
import { type OverlapPair, overlapPairs } from "./overlap-pairs";
import {
  type AllShells,
  allShells,
  type BetweenShape,
  tilesTouched,
  trianglesOfShells,
  type Window,
} from "./shells-in-uv";

/** What lies between shells: coverage, overlap, gaps, borders of tiles. Shells are numbered among the mapped ones. */
export interface Between {
  readonly cover: Coverage;
  /** Marks shells that lie right on an earlier one. */
  readonly copies: Uint8Array;
  /** Overlap when exact copies lying on one another count once. */
  readonly overlapUnstacked: number;
  /** Least distance of two shells, in tiles; null with fewer than two. */
  readonly gap: number | null;
  /** Shells that share area, the largest first; null when there are too many pairs to list. */
  readonly pairs: readonly OverlapPair[] | null;
  readonly kept: KeptPairs | null;
}

/** Pairs that are still right for shells that stay as they are. */
interface KeptPairs {
  /** What every shell was known by. */
  readonly stamps: Float64Array;
  readonly near: readonly NearPair[];
  readonly reach: number;
}

export interface BetweenInput {
  readonly shapes: readonly BetweenShape[];
  readonly before?: Between | undefined;
  /** Resolution of the finest tile by that of the coarsest: how much farther a gap may be and still be the least in texels. */
  readonly uneven?: number;
}

/** How far gaps are looked for at first, in tiles: what lies farther apart is seldom asked for. */
const REACH = 1 / 128;
/** How far gaps of shells that share nothing are looked for where others overlap: no padding is wider. */
const FARTHEST = 1 / 8;

/** @returns figures updated where little has changed, in time proportional to the change */
export function measureBetween({ shapes, before, uneven = 1 }: BetweenInput): Between {
  const shells = allShells(shapes);
  const copies = Uint8Array.from(shells.twin, (twin, i) => (twin === i ? 0 : 1));
  const found = findPairs(shapes, shells, copies, before?.kept ?? null, uneven);
  if (!found) return heap(shapes, shells, copies);
  const pairs = found.near
    .filter((p) => p.area! > 0)
    .map(({ a, b, area }) => ({ a, b, area: area! }))
    .sort((p, q) => q.area - p.area || p.a - q.a || p.b - q.b);
  return {
    ...coverOf(shapes, shells, copies, pairs),
    copies,
    gap: found.gap,
    pairs,
    kept: { stamps: shells.stamps, near: found.near, reach: found.reach },
  };
}

interface Pairs {
  readonly near: readonly NearPair[];
  readonly gap: number | null;
  readonly reach: number;
}

/** All pairs: those kept of before, and those of shells that are new. Looks farther until a gap is found. */
function findPairs(
  shapes: readonly BetweenShape[],
  shells: AllShells,
  copies: Uint8Array,
  before: KeptPairs | null,
  uneven: number,
): Pairs | null {
  const { kept, fresh } = keptPairs(shells, before);
  let bordered = 0;
  for (let k = 0; k < shells.count && bordered < 2; k++) if (!copies[k] && shells.border(k).segments.length) bordered++;
  let reach = before?.reach ?? REACH;
  let known = kept;
  for (;;) {
    const found = nearShells(shells, fresh, reach);
    const near = found && overlapsOf(shapes, shells, [...known, ...found]);
    if (!near) return null;
    let [gap, apart] = [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY];
    for (const p of near) {
      if (p.a === p.b || copies[p.a] || copies[p.b]) continue;
      gap = Math.min(gap, p.gap);
      if (!p.area) apart = Math.min(apart, p.gap);
    }
    if (gap * uneven <= reach && (apart * uneven <= reach || reach >= FARTHEST)) return { near, gap, reach };
    if (bordered < 2) return { near, gap: null, reach };
    reach *= 2;
    known = [];
    fresh.fill(1);
  }
}

/** Pairs of before whose two shells are as they were, and marks of the shells that are not. */
function keptPairs(shells: AllShells, before: KeptPairs | null): { kept: NearPair[]; fresh: Uint8Array } {
  const fresh = new Uint8Array(shells.count).fill(1);
  if (!before) return { kept: [], fresh };
  const old = new Map<number, number>();
  before.stamps.forEach((stamp, i) => {
    old.set(stamp, i);
  });
  const now = new Int32Array(before.stamps.length).fill(-1);
  for (let i = 0; i < shells.count; i++) {
    const was = old.get(shells.stamps[i]!);
    if (was === undefined) continue;
    now[was] = i;
    fresh[i] = 0;
  }
  const kept: NearPair[] = [];
  for (const p of before.near) {
    const [a, b] = [now[p.a]!, now[p.b]!];
    if (a >= 0 && b >= 0) kept.push(a === p.a && b === p.b ? p : { ...p, a: Math.min(a, b), b: Math.max(a, b) });
  }
  return { kept, fresh };
}

/** Finds the shared area of pairs that only their triangles can tell of; null when there is too much of it. */
function overlapsOf(shapes: readonly BetweenShape[], shells: AllShells, near: readonly NearPair[]): NearPair[] | null {
  const windows = new Map<number, Window>();
  const widen = (shell: number, w: Window) => {
    const own = windows.get(shell);
    windows.set(
      shell,
      own ? [Math.min(own[0], w[0]), Math.min(own[1], w[1]), Math.max(own[2], w[2]), Math.max(own[3], w[3])] : [...w],
    );
  };
  const box = (k: number): Window => shells.box.slice(4 * k, 4 * k + 4) as unknown as Window;
  for (const { a, b, area } of near) {
    if (area !== null) continue;
    const [p, q] = [box(a), box(b)];
    const both: Window = [Math.max(p[0], q[0]), Math.max(p[1], q[1]), Math.min(p[2], q[2]), Math.min(p[3], q[3])];
    widen(a, both);
    widen(b, both);
  }
  if (!windows.size) return [...near];
  const found = overlapPairs(trianglesOfShells(shapes, shells, windows));
  if (!found) return null;
  const areas = new Map(found.map((p) => [p.a * shells.count + p.b, p.area]));
  return near.map((p) => (p.area === null ? { ...p, area: areas.get(p.a * shells.count + p.b) ?? 0 } : p));
}

type Covered = Pick<Between, "cover" | "overlapUnstacked">;

/** Covered area: that of shells which share nothing is the sum of their triangles, the others are sampled. */
function coverOf(
  shapes: readonly BetweenShape[],
  shells: AllShells,
  copies: Uint8Array,
  pairs: readonly OverlapPair[],
): Covered {
  const shared = new Set<number>();
  for (const { a, b } of pairs) shared.add(a).add(b);
  const area = (wanted: (k: number) => boolean): number => {
    let sum = 0;
    for (let k = 0; k < shells.count; k++) if (wanted(k)) sum += shells.uvArea[k]!;
    return sum;
  };
  const sampled = (list: readonly number[]) => {
    const windows = new Map(list.map((k) => [k, null]));
    const { coveredArea, overlapShare } = coverageOf(trianglesOfShells(shapes, shells, windows).points);
    return { covered: coveredArea, multiple: coveredArea * overlapShare };
  };
  const others = pairs.filter(({ a, b }) => a === b || shells.twin[a] !== shells.twin[b]);
  // Copies right on one another cover the area of the first, and nothing need be sampled.
  const stacked = area((k) => shared.has(k) && !copies[k]);
  const shares = others.length ? sampled([...shared]) : { covered: stacked, multiple: stacked };
  const clear = area((k) => !shared.has(k));
  const tiles = tilesTouched(shapes, shells);
  const coveredArea = clear + shares.covered;
  return {
    cover: {
      tiles,
      coveredArea,
      coverage: tiles ? coveredArea / tiles : null,
      overlapShare: coveredArea ? shares.multiple / coveredArea : 0,
    },
    overlapUnstacked: others.some(({ a, b }) => !copies[a] && !copies[b])
      ? shareOf(clear, sampled([...shared].filter((k) => !copies[k])))
      : 0,
  };
}

const shareOf = (clear: number, { covered, multiple }: { covered: number; multiple: number }): number =>
  multiple / (clear + covered);

/** A layout in which nearly all lies on all: sampled, and looked at border by border for its least gap. */
function heap(shapes: readonly BetweenShape[], shells: AllShells, copies: Uint8Array): Between {
  const all = Array.from(shells.local.keys());
  const first = all.filter((k) => !copies[k]);
  const sampled = (list: readonly number[]): Coverage =>
    coverageOf(trianglesOfShells(shapes, shells, new Map(list.map((k) => [k, null]))).points);
  const cover = sampled(all);
  const count = first.reduce((n, k) => n + shells.border(k).segments.length / 4, 0);
  const [segments, owner] = [new Float64Array(4 * count), new Uint32Array(count)];
  let at = 0;
  for (const k of first) {
    const own = shells.border(k).segments;
    segments.set(own, 4 * at);
    owner.fill(k, at, at + own.length / 4);
    at += own.length / 4;
  }
  return {
    cover,
    copies,
    overlapUnstacked: copies.includes(1) ? sampled(first).overlapShare : cover.overlapShare,
    gap: leastGap(segments, owner, 1 / 2048),
    pairs: null,
    kept: null,
  };
}
