import { type Elimination, Factorisation } from "../kernels/factorisation";
import type { Kernels } from "../kernels/kernels";
import type { ShellMesh } from "./shell-mesh";
import { cornersAbout, type ShellPattern } from "./shell-pattern";
import { keptPlan } from "./shell-plans";

/** What keeps points apart: circles in which they may be moved, all at once, as addresses of radii and of where they stand. */
interface Circles {
  circlesAbout(x: number): { readonly radii: number; readonly from: number };
}

/** What adds to a metric by itself. @param starts and `index`: addresses of its pattern */
interface Stiff {
  addMetric(x: number, values: number, starts: number, index: number): void;
}

/** What angles or areas weigh besides the stretch of lengths. */
export interface Emphasis {
  readonly angles: number;
  readonly areas: number;
}
export const EVENLY: Emphasis = { angles: 0, areas: 0 };

/** Bytes of a triangle's rest shape: its share of the area, and 6 numbers of gradients. */
const REST = 56;

/** A shell's triangles with their rest shapes, in the memory of kernels. A map of it is an address of pairs there. */
export class ShellShapes {
  readonly points: number;
  readonly count: number;
  /** Triangles by the numbers used here. */
  readonly triangles: number;
  readonly rests: number;
  /** Of the shell, in space; maps here are of an area of 1. */
  readonly worldArea: number;
  private about: { readonly start: number; readonly corners: number } | null = null;
  private marks: number | null = null;

  /**
   * @param ordered the same shell, whose points are to be numbered otherwise here: its rest shapes are shared
   * @param order the shell's number of every point here @param list triangles by the numbers used here
   */
  constructor(
    readonly kernels: Kernels,
    readonly shell: ShellMesh,
    ordered?: { readonly from: ShellShapes; readonly order: Uint32Array; readonly list: Uint32Array },
  ) {
    this.points = shell.positions.length / 3;
    this.count = shell.triangles.length / 3;
    this.order = ordered?.order ?? null;
    this.triangleList = ordered?.list ?? shell.triangles;
    this.triangles = kernels.put(this.triangleList);
    if (ordered) {
      this.rests = ordered.from.rests;
      this.worldArea = ordered.from.worldArea;
      return;
    }
    this.rests = kernels.take(REST * this.count);
    this.worldArea = kernels.during(() =>
      kernels.code.restShapes(this.count, this.triangles, kernels.put(shell.positions), this.rests),
    );
    kernels.pauseAfter(this.points);
  }

  /** Lets triangles count by the weights of the shell, where it has some. @returns what lets all count by their areas again */
  weigh(): () => void {
    const { kernels, rests, count } = this;
    const { weights } = this.shell;
    if (!weights) return () => {};
    const [size, all] = [REST / 8, (REST / 8) * count];
    const before = kernels.f64(rests, all);
    const shares = Float64Array.from({ length: count }, (_, t) => before[size * t]!);
    const put = (times: number, weightOf: (t: number) => number) => {
      const now = kernels.f64(rests, all);
      for (let t = 0; t < count; t++) now[size * t] = times * shares[t]! * weightOf(t);
    };
    const sum = shares.reduce((total, share, t) => total + share * weights[t]!, 0);
    put(1 / sum, (t) => weights[t]!);
    return () => put(1, () => 1);
  }

  protected readonly triangleList: Uint32Array;
  private readonly order: Uint32Array | null;

  /** Room for a pair a point. */
  takePairs(): number {
    return this.kernels.take(16 * this.points);
  }

  /** Writes pairs in the shell's numbers to an address. */
  write(pairs: Float64Array, to: number): void {
    const { order } = this;
    const out = this.kernels.f64(to, 2 * this.points);
    if (!order) out.set(pairs);
    else
      for (let i = 0; i < order.length; i++) {
        const v = order[i]!;
        out[2 * i] = pairs[2 * v]!;
        out[2 * i + 1] = pairs[2 * v + 1]!;
      }
  }

  /** Reads pairs from an address, in the shell's numbers. */
  read(from: number): Float64Array {
    const { order } = this;
    const pairs = this.kernels.f64(from, 2 * this.points);
    if (!order) return pairs.slice();
    const out = new Float64Array(pairs.length);
    for (let i = 0; i < order.length; i++) {
      const v = order[i]!;
      out[2 * v] = pairs[2 * i]!;
      out[2 * v + 1] = pairs[2 * i + 1]!;
    }
    return out;
  }

  /** The number here of a point of the shell. */
  numberOf(v: number): number {
    return v;
  }

  /** The energy of a map; infinite where a triangle is flipped. */
  energy(x: number): number {
    return this.kernels.code.stretchEnergy(this.count, this.triangles, this.rests, x);
  }

  /** The energy of a map and its gradient. @param out address of pairs @param more what angles or areas weigh besides */
  gradient(x: number, out: number, more: Emphasis = EVENLY): number {
    const { kernels, points, count, triangles, rests } = this;
    return kernels.code.stretchGradient(points, count, triangles, rests, x, out, more.angles, more.areas);
  }

  /** The longest step before the first flip. */
  stepBeforeFlip(x: number, step: number): number {
    return this.kernels.code.stepBeforeFlip(this.count, this.triangles, x, step);
  }

  /**
   * Moves every point to the least energy of its triangles, one after the other.
   *
   * @param above only points of triangles whose energy is above this; 0 for all
   * @param border kept from meeting itself, where it is given
   */
  smooth(x: number, sweeps: number, above: number, border: Circles | null): void {
    const { kernels, points, count, triangles, rests } = this;
    if (above) this.marks ??= kernels.take(points);
    const marks = above ? this.marks! : 0;
    if (above && !kernels.code.markStretched(points, count, triangles, rests, x, above, marks)) return;
    this.smoothMarked(x, sweeps, marks, border);
  }

  /** The same with the points that are marked. @param marks address of a byte a point; 0 for all */
  smoothMarked(x: number, sweeps: number, marks: number, border: Circles | null): void {
    const { kernels, points, triangles, rests } = this;
    if (!this.about) {
      const { start, corners } = cornersAbout(this.triangleList, points);
      this.about = { start: kernels.put(start), corners: kernels.put(corners) };
    }
    const { start, corners } = this.about;
    const run = (count: number, radii: number, from: number) =>
      kernels.code.smooth(points, count, start, corners, triangles, rests, x, marks, radii, from);
    if (!border) run(sweeps, 0, 0);
    // Circles hold until they are drawn anew: after every sweep, or where few points are moved after some.
    else
      for (let done = 0, each = marks ? 4 : 1; done < sweeps; done += each) {
        const { radii, from } = border.circlesAbout(x);
        run(Math.min(each, sweeps - done), radii, from);
      }
  }
}

/**
 * A shell as linear systems over its points see it as well: ordered and planned once, factored with other numbers again
 * and again. Points are numbered in the order of elimination, so that solving permutes nothing.
 */
export class ShellSystem extends ShellShapes {
  readonly pattern: ShellPattern;
  readonly tree: Elimination;
  readonly factorisation: Factorisation;
  private readonly slots: number;
  /** The pattern again, where kernels can look things up in it. */
  private patternAt: { readonly starts: number; readonly index: number } | null = null;

  /**
   * @param pairs points that entries are kept for as well, by their numbers in the shell
   * @param planOf makes the plan; where the same shell may come again, one that was kept serves
   */
  constructor(shapes: ShellShapes, pairs: ArrayLike<number> = [], planOf = keptPlan) {
    const { kernels, shell } = shapes;
    const { tree, list, pattern, factor } = planOf(kernels, shell, pairs);
    super(kernels, shell, { from: shapes, order: tree.order, list });
    this.tree = tree;
    this.pattern = pattern;
    this.factorisation = new Factorisation(kernels, factor);
    this.slots = kernels.put(this.pattern.slots);
  }

  /** Writes the cotangent Laplacian to the values of the factorisation. */
  laplacian(): void {
    const { kernels, count, rests, slots, factorisation } = this;
    kernels.code.laplacian(count, rests, slots, factorisation.values, factorisation.size);
  }

  /** Curvature of every point, in the numbers here: a whole turn, on the border half a turn, less its angles. */
  angleDefects(onBorder: Uint8Array): Float64Array {
    const { kernels, count, triangles, rests, points } = this;
    return kernels.during(() => {
      const at = kernels.put(Float64Array.from(onBorder, (b) => (b ? Math.PI : 2 * Math.PI)));
      kernels.code.takeAngles(count, triangles, rests, at);
      return kernels.f64(at, points).slice();
    });
  }

  override numberOf(v: number): number {
    return this.tree.position[v]!;
  }

  /** Writes the scalar metric at a map to the values of the factorisation, with what close pairs of a border add. */
  metric(x: number, border: Stiff | null = null, { angles, areas }: Emphasis = EVENLY): void {
    const { kernels, count, triangles, rests, slots, factorisation, pattern } = this;
    const { values, size } = factorisation;
    kernels.code.stretchMetric(count, triangles, rests, x, slots, values, size, angles, areas);
    if (!border) return;
    this.patternAt ??= { starts: kernels.put(pattern.start), index: kernels.put(pattern.index) };
    border.addMetric(x, factorisation.values, this.patternAt.starts, this.patternAt.index);
  }
}
