import { iota } from "./iota";
/** The point of a triangle nearest to another point. */
export interface Nearest {
  triangle: number;
  /** Weights of the triangle's corners. */
  a: number;
  b: number;
  c: number;
  distance: number;
}

const LEAF = 4;

/** A part of a whole; none of a whole that is nothing, as that of a triangle without extent. */
const share = (part: number, whole: number): number => (whole === 0 ? 0 : part / whole);

/**
 * Triangles in a tree of boxes, to find the nearest to a point.
 * (Nearest point of a triangle: C. Ericson, Real-Time Collision Detection, 2005, 5.1.5.)
 */
export class TriangleTree {
  private readonly order: Uint32Array;
  private readonly boxes: number[] = [];
  /** Per node: first and one past the last triangle; and the second child, or 0 for a leaf (the first child follows). */
  private readonly nodes: number[] = [];

  /**
   * @param points 3 per point
   * @param triangles 3 points each
   */
  constructor(
    private readonly points: Float64Array,
    private readonly triangles: Uint32Array,
  ) {
    const count = triangles.length / 3;
    this.order = iota(count);
    if (count) this.build(0, count);
  }

  private build(from: number, to: number): void {
    const node = this.nodes.length / 3;
    const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
    for (let i = from; i < to; i++)
      for (let k = 0; k < 3; k++)
        for (let d = 0; d < 3; d++) {
          const x = this.points[3 * this.triangles[3 * this.order[i]! + k]! + d]!;
          box[d] = Math.min(box[d]!, x);
          box[d + 3] = Math.max(box[d + 3]!, x);
        }
    this.boxes.push(...box);
    this.nodes.push(from, to, 0);
    if (to - from <= LEAF) return;
    const size = [0, 1, 2].map((d) => box[d + 3]! - box[d]!);
    const axis = size.indexOf(Math.max(...size));
    const part = this.order.subarray(from, to);
    part.sort((s, t) => this.middle(s, axis) - this.middle(t, axis));
    const half = (from + to) >> 1;
    this.build(from, half);
    this.nodes[3 * node + 2] = this.nodes.length / 3;
    this.build(half, to);
  }

  private middle(t: number, axis: number): number {
    let sum = 0;
    for (let k = 0; k < 3; k++) sum += this.points[3 * this.triangles[3 * t + k]! + axis]!;
    return sum;
  }

  /** The nearest of the triangles that count; null when none does. */
  nearest(x: number, y: number, z: number, counts: (triangle: number) => boolean = () => true): Nearest | null {
    const best: Nearest = { triangle: -1, a: 0, b: 0, c: 0, distance: Infinity };
    const stack = this.nodes.length ? [0] : [];
    while (stack.length) {
      const node = stack.pop()!;
      if (this.boxDistance(node, x, y, z) >= best.distance) continue;
      const second = this.nodes[3 * node + 2]!;
      if (second) {
        const near = this.boxDistance(node + 1, x, y, z) <= this.boxDistance(second, x, y, z);
        stack.push(near ? second : node + 1, near ? node + 1 : second);
        continue;
      }
      for (let i = this.nodes[3 * node]!; i < this.nodes[3 * node + 1]!; i++) {
        const t = this.order[i]!;
        if (counts(t)) this.tryTriangle(t, x, y, z, best);
      }
    }
    return best.triangle < 0 ? null : best;
  }

  /** The point of one triangle nearest to a point. */
  nearestOn(triangle: number, x: number, y: number, z: number): Nearest {
    const best: Nearest = { triangle, a: 1, b: 0, c: 0, distance: Infinity };
    this.tryTriangle(triangle, x, y, z, best);
    return best;
  }

  private boxDistance(node: number, x: number, y: number, z: number): number {
    const b = this.boxes;
    const i = 6 * node;
    const dx = Math.max(b[i]! - x, 0, x - b[i + 3]!);
    const dy = Math.max(b[i + 1]! - y, 0, y - b[i + 4]!);
    const dz = Math.max(b[i + 2]! - z, 0, z - b[i + 5]!);
    return Math.sqrt(dx * dx + dy * dy + dz * dz);
  }

  private tryTriangle(t: number, x: number, y: number, z: number, best: Nearest): void {
    const p = this.points;
    const [i, j, k] = [0, 1, 2].map((n) => 3 * this.triangles[3 * t + n]!) as [number, number, number];
    const ab = [p[j]! - p[i]!, p[j + 1]! - p[i + 1]!, p[j + 2]! - p[i + 2]!];
    const ac = [p[k]! - p[i]!, p[k + 1]! - p[i + 1]!, p[k + 2]! - p[i + 2]!];
    const dot = (u: readonly number[], v: readonly number[]) => u[0]! * v[0]! + u[1]! * v[1]! + u[2]! * v[2]!;
    const from = (o: number) => [x - p[o]!, y - p[o + 1]!, z - p[o + 2]!];
    const [ap, bp, cp] = [from(i), from(j), from(k)];
    const [d1, d2, d3, d4, d5, d6] = [dot(ab, ap), dot(ac, ap), dot(ab, bp), dot(ac, bp), dot(ab, cp), dot(ac, cp)];
    const [va, vb, vc] = [d3 * d6 - d5 * d4, d5 * d2 - d1 * d6, d1 * d4 - d3 * d2];
    let [b, c] = [0, 0];
    if (d1 <= 0 && d2 <= 0) [b, c] = [0, 0];
    else if (d3 >= 0 && d4 <= d3) [b, c] = [1, 0];
    else if (d6 >= 0 && d5 <= d6) [b, c] = [0, 1];
    else if (vc <= 0 && d1 >= 0 && d3 <= 0) [b, c] = [share(d1, d1 - d3), 0];
    else if (vb <= 0 && d2 >= 0 && d6 <= 0) [b, c] = [0, share(d2, d2 - d6)];
    else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
      const w = share(d4 - d3, d4 - d3 + d5 - d6);
      [b, c] = [1 - w, w];
    } else {
      const sum = va + vb + vc;
      [b, c] = [share(vb, sum), share(vc, sum)];
    }
    const distance = Math.hypot(
      ap[0]! - b * ab[0]! - c * ac[0]!,
      ap[1]! - b * ab[1]! - c * ac[1]!,
      ap[2]! - b * ab[2]! - c * ac[2]!,
    );
    if (distance < best.distance) Object.assign(best, { triangle: t, a: 1 - b - c, b, c, distance });
  }
}
