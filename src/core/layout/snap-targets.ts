import type { Edge } from "../mesh/indices";
import { topologyOf } from "../mesh/topology";
import { GrowableArray } from "../numeric/growable-array";
import { nearestOnSegment } from "../numeric/segments";
import type { PlacedShape } from "./asset";
import { getBit } from "./bits";
import { isBarrier, type Layout, structureOf } from "./layout";

/** What UV points that are moved may keep to. */
export const SNAPS = ["points", "borders", "tiles", "grid"] as const;
export type SnapTo = (typeof SNAPS)[number];

/** What is moved stops at other shells, instead of being drawn to something. */
export const STOPS = "shells";
/** It pushes other shells before it. */
export const PUSHES = "push";

/** Tiles between the lines of the grid. */
export const GRID_STEP = 1 / 8;

/** Columns that targets are looked up by, at the most. */
const MOST_COLUMNS = 4096;

/** A shape whose points attract others, but for those that are moved themselves: 1 by wedge. */
export interface Attracting {
  readonly shape: PlacedShape;
  readonly layout: Layout;
  readonly moves: Uint8Array | null;
}

/** Places of the sheet that points are drawn to, looked up once. Asking takes time by what lies near the place. */
export class SnapTargets {
  /** 4 numbers each: a border edge, or a point as an edge without length. */
  private readonly segments: Float64Array;
  private readonly left: number;
  private readonly width: number;
  /** Segments of column k: items[start[k] .. start[k + 1] - 1]. */
  private readonly start: Uint32Array;
  private readonly items: Uint32Array;

  /** @param within how near a place has to be to draw a point, tiles */
  constructor(
    shapes: readonly Attracting[],
    private readonly to: SnapTo,
    private readonly within: number,
  ) {
    this.segments = to === "points" ? pointsOf(shapes) : to === "borders" ? bordersOf(shapes) : new Float64Array(0);
    let [left, right] = [Infinity, -Infinity];
    for (let i = 0; i < this.segments.length; i += 2) {
      left = Math.min(left, this.segments[i]!);
      right = Math.max(right, this.segments[i]!);
    }
    this.left = left;
    const columns = Math.max(1, Math.min(MOST_COLUMNS, Math.ceil((right - left) / within) || 1));
    this.width = Math.max((right - left) / columns, within) || 1;
    this.start = new Uint32Array(columns + 2);
    this.eachColumn((column) => {
      this.start[column + 1]!++;
    });
    for (let k = 0; k <= columns; k++) this.start[k + 1]! += this.start[k]!;
    const fill = this.start.slice();
    this.items = new Uint32Array(this.start.at(-1)!);
    this.eachColumn((column, segment) => {
      this.items[fill[column]!++] = segment;
    });
  }

  private column(u: number): number {
    return Math.max(0, Math.min(this.start.length - 2, Math.floor((u - this.left) / this.width)));
  }

  private eachColumn(act: (column: number, segment: number) => void): void {
    const { segments } = this;
    for (let i = 0; i < segments.length; i += 4) {
      const last = this.column(Math.max(segments[i]!, segments[i + 2]!));
      for (let k = this.column(Math.min(segments[i]!, segments[i + 2]!)); k <= last; k++) act(k, i);
    }
  }

  /** The place that a point is drawn to; null where none is near. */
  nearest(u: number, v: number): readonly [number, number] | null {
    if (this.to === "tiles") return this.toLines(u, v, 1);
    if (this.to === "grid") return this.toLines(u, v, GRID_STEP);
    const { segments, within, start, items } = this;
    let best: readonly [number, number] | null = null;
    let least = within;
    const last = this.column(u + within);
    for (let k = this.column(u - within); k <= last; k++)
      for (let n = start[k]!; n < start[k + 1]!; n++) {
        const [a, b] = nearestOnSegment(u, v, segments, items[n]!);
        const away = Math.hypot(a - u, b - v);
        if (away > least || (away === least && best)) continue;
        least = away;
        best = [a, b];
      }
    return best;
  }

  /** To lines along both axes, each by itself. */
  private toLines(u: number, v: number, step: number): readonly [number, number] | null {
    const [a, b] = [u, v].map((x) => {
      const line = Math.round(x / step) * step;
      return Math.abs(line - x) <= this.within ? line : x;
    }) as [number, number];
    return a === u && b === v ? null : [a, b];
  }
}

function pointsOf(shapes: readonly Attracting[]): Float64Array {
  const out = new GrowableArray();
  for (const { shape, layout, moves } of shapes) {
    const s = structureOf(shape.mesh, layout);
    const { cornerFace } = topologyOf(shape.mesh);
    const seen = new Uint8Array(s.wedgeCount);
    for (let c = 0; c < s.cornerWedge.length; c++) {
      const w = s.cornerWedge[c]!;
      if (seen[w] || moves?.[w] || !getBit(layout.mapped, cornerFace[c]!)) continue;
      seen[w] = 1;
      const [u, v] = [layout.uv[2 * w]!, layout.uv[2 * w + 1]!];
      out.add(u).add(v).add(u).add(v);
    }
  }
  return out.data.slice(0, out.length);
}

function bordersOf(shapes: readonly Attracting[]): Float64Array {
  const out = new GrowableArray();
  for (const { shape, layout, moves } of shapes) {
    const { cornerWedge } = structureOf(shape.mesh, layout);
    const t = topologyOf(shape.mesh);
    for (let e = 0 as Edge; e < t.edgeCount; e++) {
      if (!isBarrier(t, layout, e)) continue;
      for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++) {
        const c = t.edgeCorners[k]!;
        if (!getBit(layout.mapped, t.cornerFace[c]!)) continue;
        const [a, b] = [cornerWedge[c]!, cornerWedge[t.cornerNext[c]!]!];
        if (moves?.[a] || moves?.[b]) continue;
        for (const w of [a, b]) out.add(layout.uv[2 * w]!).add(layout.uv[2 * w + 1]!);
      }
    }
  }
  return out.data.slice(0, out.length);
}
