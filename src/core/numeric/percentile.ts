const BINS = 2048;

/**
 * The least value below which, itself included, lies a share of the weight. Narrows a histogram instead of sorting:
 * linear time, one pass a narrowing, and the same answer.
 *
 * @param values finite or Infinity; not changed
 * @param weights not negative
 * @param share 0 to 1
 */
export function weightedPercentile(values: Float64Array, weights: Float64Array, share: number): number {
  let total = 0;
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < values.length; i++) {
    total += weights[i]!;
    if (values[i]! < low) low = values[i]!;
    if (values[i]! > high) high = values[i]!;
  }
  let wanted = share * total;
  const bins = new Float64Array(BINS);
  for (let round = 0; round < 40 && Number.isFinite(high) && high > low; round++) {
    bins.fill(0);
    const scale = BINS / (high - low);
    if (!Number.isFinite(scale)) break;
    for (let i = 0; i < values.length; i++) {
      const x = values[i]!;
      if (x < low || x > high) continue;
      bins[Math.min(BINS - 1, Math.floor((x - low) * scale))]! += weights[i]!;
    }
    let bin = 0;
    while (bin < BINS - 1 && bins[bin]! < wanted) wanted -= bins[bin++]!;
    // The values of that bin become the whole range.
    let [nextLow, nextHigh] = [Infinity, -Infinity];
    for (let i = 0; i < values.length; i++) {
      const x = values[i]!;
      if (x < low || x > high || Math.min(BINS - 1, Math.floor((x - low) * scale)) !== bin) continue;
      if (x < nextLow) nextLow = x;
      if (x > nextHigh) nextHigh = x;
    }
    if (nextLow === Infinity) break;
    if (nextLow === low && nextHigh === high) break;
    [low, high] = [nextLow, nextHigh];
  }
  return high;
}
