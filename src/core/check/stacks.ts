import type { Figures } from "./figures";

/** Boxes and areas that differ by less than this share of a tile are the same. */
const NEAR = 1e-5;

/**
 * Marks shells that lie right on an earlier one: same box and same area. Values are compared by their distance, in the
 * order of one of them, so that none is cut apart by the border of a cell.
 *
 * @returns one per mapped shell, in the order of the figures
 */
export function stackedCopies(figures: Figures): Uint8Array {
  const keys: number[] = [];
  for (const f of figures.values())
    for (let k = 0; k < f.count; k++)
      if (f.mapped[k])
        keys.push(f.box[4 * k]!, f.box[4 * k + 1]!, f.box[4 * k + 2]!, f.box[4 * k + 3]!, Math.sqrt(f.uvArea[k]!));
  const n = keys.length / 5;
  const copies = new Uint8Array(n);
  const order = Uint32Array.from({ length: n }, (_, i) => i).sort((a, b) => keys[5 * a]! - keys[5 * b]! || a - b);
  for (let i = 0; i < n; i++) {
    for (let j = i - 1; j >= 0 && keys[5 * order[i]!]! - keys[5 * order[j]!]! <= NEAR; j--) {
      const [a, b] = [order[i]!, order[j]!];
      let alike = true;
      for (let d = 1; d < 5 && alike; d++) alike = Math.abs(keys[5 * a + d]! - keys[5 * b + d]!) <= NEAR;
      if (!alike) continue;
      copies[Math.max(a, b)] = 1;
      // One earlier twin is enough, unless the later of the two was marked already.
      if (copies[a] || a > b) break;
    }
  }
  return copies;
}
