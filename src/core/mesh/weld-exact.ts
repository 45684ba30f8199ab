/**
 * Finds points at exactly the same position (0 and -0 are the same), in expected linear time.
 *
 * @param positions 3 per point, finite
 * @returns for every point its number among the different ones, counted in the order of first appearance
 */
export function weldExact(positions: Float64Array | Float32Array): { of: Uint32Array; count: number } {
  const points = positions.length / 3;
  const of = new Uint32Array(points);
  let size = 16;
  while (size < 2 * points) size *= 2;
  const table = new Int32Array(size).fill(-1);
  const words = new Float64Array(3);
  const bits = new Uint32Array(words.buffer);
  let count = 0;
  for (let i = 0; i < points; i++) {
    words[0] = positions[3 * i]! + 0;
    words[1] = positions[3 * i + 1]! + 0;
    words[2] = positions[3 * i + 2]! + 0;
    let hash = 0;
    for (let k = 0; k < 6; k++) {
      hash = Math.imul(hash ^ bits[k]!, 0x9e3779b1);
      hash ^= hash >>> 15;
    }
    let slot = hash & (size - 1);
    for (;;) {
      const other = table[slot]!;
      if (other < 0) {
        table[slot] = i;
        of[i] = count++;
        break;
      }
      if (
        positions[3 * other] === positions[3 * i] &&
        positions[3 * other + 1] === positions[3 * i + 1] &&
        positions[3 * other + 2] === positions[3 * i + 2]
      ) {
        of[i] = of[other]!;
        break;
      }
      slot = (slot + 1) & (size - 1);
    }
  }
  return { of, count };
}

/** The different points, in the order of their numbers. */
export function pickPoints(positions: Float64Array | Float32Array, of: Uint32Array, count: number): Float64Array {
  const out = new Float64Array(3 * count);
  for (let i = of.length - 1; i >= 0; i--) for (let d = 0; d < 3; d++) out[3 * of[i]! + d] = positions[3 * i + d]! + 0;
  return out;
}
