import type { Kernels } from "../kernels/kernels";
import { borderLengths } from "./shell-mesh";
import type { ShellShapes } from "./shell-system";

/** Of the mean length of a border's edges, the distance below which a point and an edge of it push each other. */
const RANGE = 0.25;
/** Times that, pairs may come to push while a level is minimised: entries are kept for them. */
const COUPLED = 3;
/** Of the mean length of a border's edges, how far two may reach into each other and still only touch. */
const SLACK = 1e-6;
/** Further than any point moves. */
const FREE = 1e308;

/**
 * Keeps the border of a disk's map from meeting itself: close pairs of a border point and a border edge push each other, a
 * step that would make the border cross costs without bound, and points that are smoothed stay within circles that leave
 * others theirs. A map of a disk without flips whose border is simple covers nothing twice.
 *
 * Source: Smith, Schaefer, Bijective parameterization with free boundaries (2015).
 */
export class BorderBarrier {
  private readonly kernels: Kernels;
  private readonly count: number;
  private readonly loop: number;
  private readonly ways: number;
  private readonly shares: number;
  private readonly scratch: number;
  private readonly mean: number;
  /** How far each point may move, and from where; made when something is first smoothed. */
  private circles: { readonly radii: number; readonly from: number } | null = null;

  /** @param loop the border in the shell's numbers, in the direction of the faces */
  constructor(
    private readonly shapes: ShellShapes,
    loop: ArrayLike<number>,
  ) {
    const { kernels, worldArea } = shapes;
    this.kernels = kernels;
    const n = loop.length;
    this.count = n;
    const unit = Math.sqrt(worldArea);
    const lengths = borderLengths(shapes.shell, loop).map((length) => length / unit);
    const ways = new Float64Array(n + 1);
    for (let i = 0; i < n; i++) ways[i + 1] = ways[i]! + lengths[i]!;
    this.mean = ways[n]! / n;
    const shares = lengths.map((length, i) => (length + lengths[(i + n - 1) % n]!) / 2);
    this.loop = kernels.put(Uint32Array.from(loop, (v) => shapes.numberOf(v)));
    this.ways = kernels.put(ways);
    this.shares = kernels.put(shares);
    this.scratch = kernels.take(8 * (2 * (n + 1) + 9 * n + 100 + 32 * n + 500 + 64 * n));
  }

  /** The kernels look at one border at a time. */
  private look(): Kernels["code"] {
    const { code } = this.kernels;
    code.setBorder(this.count, this.loop, this.ways, this.shares, RANGE * this.mean, this.scratch);
    return code;
  }

  /** Whether the border of a map meets itself, be it in one point: then there is nothing to keep apart. */
  meets(x: number): boolean {
    return this.look().borderCrosses(x, 0) !== 0;
  }

  /** Whether the border of a map crosses itself: sides of a cut that lie on each other exactly do not. */
  crosses(x: number): boolean {
    return this.look().borderCrosses(x, SLACK * this.mean) !== 0;
  }

  /** What close pairs cost; infinite where the border meets itself. What is found serves `addGradient`. */
  energy(x: number): number {
    return this.look().barrierEnergy(x);
  }

  /** Adds the gradient of what was looked at last. */
  addGradient(out: number): void {
    this.kernels.code.addBarrierGradient(out);
  }

  /** Adds how stiff close pairs are to the values of a metric. @param starts and `index`: addresses of its pattern */
  addMetric(x: number, values: number, starts: number, index: number): void {
    this.look().addBarrierMetric(x, values, starts, index);
  }

  /** Pairs of points that may come to push each other, in the numbers of the shapes here. */
  closePoints(x: number): Uint32Array {
    const most = 4 * this.count + 16;
    return this.kernels.during(() => {
      const out = this.kernels.take(8 * most);
      const found = this.look().closePoints(x, COUPLED, out, most);
      return this.kernels.u32(out, 2 * found).slice();
    });
  }

  /** Circles in which points may be moved all at once: their radii, and copies of where they stand, as addresses. */
  circlesAbout(x: number): { readonly radii: number; readonly from: number } {
    const { kernels, shapes } = this;
    const { points } = shapes;
    if (!this.circles) {
      this.circles = { radii: kernels.take(8 * points), from: shapes.takePairs() };
      kernels.f64(this.circles.radii, points).fill(FREE);
    }
    this.look().borderRadii(x, this.mean, this.circles.radii);
    kernels.f64(this.circles.from, 2 * points).set(kernels.f64(x, 2 * points));
    return this.circles;
  }
}
