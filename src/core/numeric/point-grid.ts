/** One per axis, so that cells on a diagonal do not share a slot. */
const PRIMES = [73856093, 19349663, 83492791];

/**
 * Points in cells of one size, found by hashing the cell: adding takes constant time, looking round a place takes time by
 * the points near it.
 */
export class PointGrid {
  private readonly cell: number;
  private readonly mask: number;
  /** First point of every slot, and the next one after each; -1 for none. */
  private readonly head: Int32Array;
  private readonly next: Int32Array;
  private readonly tried = new Int32Array(27);
  private readonly scattered = new Int32Array(9);

  /**
   * @param points 3 per point; they are in the grid once they are added
   * @param reach how far apart points may lie to be near each other
   */
  constructor(
    private readonly points: Float64Array,
    reach: number,
  ) {
    // A cell of no size would hash every coordinate to infinity: equal points are found in the smallest that is sound.
    let extent = 1e-300;
    for (let i = 0; i < points.length; i++) extent = Math.max(extent, Math.abs(points[i]!));
    this.cell = Math.max(reach, extent * 1e-15);
    const count = points.length / 3;
    let size = 16;
    while (size < 2 * count) size *= 2;
    this.mask = size - 1;
    this.head = new Int32Array(size).fill(-1);
    this.next = new Int32Array(count);
  }

  private slot(x: number, y: number, z: number): number {
    const h = x ^ y ^ z;
    return (h ^ (h >>> 13)) & this.mask;
  }

  /** Numbers of the cells at a coordinate and to both sides of it, scattered. */
  private scatter(value: number, axis: number): void {
    const at = Math.floor(value / this.cell);
    for (let k = 0; k < 3; k++) {
      // Far from the origin cells have numbers beyond 32 bits.
      const number = at + k - 1;
      const whole = number === (number | 0) ? number : (number % 2147483647) | 0;
      this.scattered[3 * axis + k] = Math.imul(whole, PRIMES[axis]!);
    }
  }

  add(point: number): void {
    const { points, scattered: s } = this;
    for (let axis = 0; axis < 3; axis++) this.scatter(points[3 * point + axis]!, axis);
    const slot = this.slot(s[1]!, s[4]!, s[7]!);
    this.next[point] = this.head[slot]!;
    this.head[slot] = point;
  }

  /** Calls `act` with every added point in the cell of a place and those round it, some farther ones among them. */
  near(x: number, y: number, z: number, act: (point: number) => void): void {
    const { tried, head, next, scattered: s } = this;
    this.scatter(x, 0);
    this.scatter(y, 1);
    this.scatter(z, 2);
    let known = 0;
    for (let k = 0; k < 27; k++) {
      const at = this.slot(s[k % 3]!, s[3 + (((k / 3) | 0) % 3)]!, s[6 + ((k / 9) | 0)]!);
      if (head[at]! < 0) continue;
      // Two cells may share a slot, which is then looked into once.
      let seen = false;
      for (let t = 0; t < known; t++) seen ||= tried[t] === at;
      if (seen) continue;
      tried[known++] = at;
      for (let j = head[at]!; j >= 0; j = next[j]!) act(j);
    }
  }
}
