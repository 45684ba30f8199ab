import { BorderGrid } from "../check/contact";
import type { Asset } from "../layout/asset";
import { structureOf } from "../layout/layout";
import { shellBorders } from "../layout/shell-borders";
import { wedgeShells } from "../layout/shell-points";
import { endDistance, meet } from "../numeric/segments";
import type { Moving } from "./moving";
import type { Scope } from "./operation";
import { layoutOf, shapesInScope } from "./scope";

interface Way {
  readonly du: number;
  readonly dv: number;
}

/** Borders of shells: 4 numbers each, and a point of each shell's. */
interface Outline {
  readonly segments: Float64Array;
  readonly points: Float64Array;
}

/** Halvings by which the place is found where shells touch. */
const HALVINGS = 12;

/**
 * Shells that are moved under the pointer stop at their neighbours, and glide along them. A way that leads clear of all of
 * them is gone as it is: dragged on, a shell gets to the other side.
 */
export class Stopping {
  private readonly own: Outline;
  private readonly others: Outline;
  private readonly grid: BorderGrid | null;
  private readonly ownGrid: BorderGrid;
  private last: Way = { du: 0, dv: 0 };
  private asked: Way = { du: 0, dv: 0 };

  /** @param apart the distance that is kept, tiles */
  constructor(
    asset: Asset,
    { set, parts }: Scope,
    moving: readonly Moving[],
    private readonly apart: number,
  ) {
    const outlines = outlinesOf(asset, { set, parts }, moving);
    this.own = outlines.own;
    this.others = outlines.others;
    this.grid = this.others.segments.length ? new BorderGrid(this.others.segments, apart) : null;
    this.ownGrid = new BorderGrid(this.own.segments, apart);
  }

  /** The way that is gone of one that is asked for. */
  apply<T extends Way>(way: T): T {
    if (way.du === this.asked.du && way.dv === this.asked.dv) return { ...way, ...this.last };
    this.asked = { du: way.du, dv: way.dv };
    this.last = this.towards(this.last, this.asked);
    return { ...way, ...this.last };
  }

  private towards(from: Way, to: Way): Way {
    if (this.isFree(to)) return to;
    // What lay too near from the start is not held there.
    if (!this.isFree(from)) return to;
    const straight = this.stopped(from, to);
    // On along either axis, whichever leads farther.
    const glides = [
      this.stopped(straight, { du: to.du, dv: straight.dv }),
      this.stopped(straight, { du: straight.du, dv: to.dv }),
    ];
    const left = ({ du, dv }: Way) => Math.hypot(to.du - du, to.dv - dv);
    return glides.reduce((best, way) => (left(way) < left(best) ? way : best), straight);
  }

  /** The last free place on a straight way, from one that is free. */
  private stopped(from: Way, to: Way): Way {
    if (this.isFree(to)) return to;
    let [low, high] = [0, 1];
    const at = (t: number): Way => ({ du: from.du + t * (to.du - from.du), dv: from.dv + t * (to.dv - from.dv) });
    for (let k = 0; k < HALVINGS; k++) {
      const middle = (low + high) / 2;
      if (this.isFree(at(middle))) low = middle;
      else high = middle;
    }
    return at(low);
  }

  /** Whether shells that went so far lie over none, and nearer to none than the distance. */
  private isFree({ du, dv }: Way): boolean {
    const { grid, others, own, apart } = this;
    if (!grid) return true;
    const s = own.segments;
    const moved = new Float64Array(4);
    for (let c = 0; c < s.length; c += 4) {
      for (let i = 0; i < 4; i++) moved[i] = s[c + i]! + (i % 2 ? dv : du);
      const u0 = Math.min(moved[0]!, moved[2]!) - apart;
      const u1 = Math.max(moved[0]!, moved[2]!) + apart;
      const v0 = Math.min(moved[1]!, moved[3]!) - apart;
      const v1 = Math.max(moved[1]!, moved[3]!) + apart;
      const t = others.segments;
      if (grid.some(u0, v0, u1, v1, (k) => meet(moved, 0, t, k) || endDistance(moved, 0, t, k) < apart)) return false;
    }
    // Whole within one of them, or round it.
    for (let i = 0; i < own.points.length; i += 2)
      if (grid.holds(own.points[i]! + du, own.points[i + 1]! + dv)) return false;
    for (let i = 0; i < others.points.length; i += 2)
      if (this.ownGrid.holds(others.points[i]! - du, others.points[i + 1]! - dv)) return false;
    return true;
  }
}

/** Borders of shells that are moved, and of all others. */
function outlinesOf(asset: Asset, scope: Scope, moving: readonly Moving[]): { own: Outline; others: Outline } {
  const [own, others]: [Float64Array[], Float64Array[]] = [[], []];
  for (const shape of shapesInScope(asset, scope)) {
    const { mesh } = shape;
    const layout = layoutOf(shape, scope.set);
    const shellOf = wedgeShells(mesh, structureOf(mesh, layout));
    const moves = new Set<number>();
    for (const { shape: id, wedges } of moving)
      if (id === shape.id) for (let i = 0; i < wedges.length; i++) moves.add(shellOf[wedges[i]!]!);
    for (const [k, border] of shellBorders(mesh, layout).entries())
      if (border.length) (moves.has(k) ? own : others).push(border);
  }
  return { own: joined(own), others: joined(others) };
}

/** All segments in one list, and a point of each border. */
function joined(borders: readonly Float64Array[]): Outline {
  const segments = new Float64Array(borders.reduce((n, b) => n + b.length, 0));
  let at = 0;
  for (const border of borders) {
    segments.set(border, at);
    at += border.length;
  }
  return { segments, points: Float64Array.from(borders.flatMap((b) => [b[0]!, b[1]!])) };
}
