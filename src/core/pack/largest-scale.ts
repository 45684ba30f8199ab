/** Larger and smaller by this it goes, until one fits and another does not. */
const [LARGER, SMALLER] = [1.1, 0.85];

/**
 * Looks for the largest scale at which something is found, from one on, by bisection.
 *
 * @param at what is found at a scale @param most no scale is larger @param tries at the most @param near scales as near as this are one
 */
export function largestScale<T>(
  at: (scale: number) => T | null,
  first: number,
  most: number,
  tries: number,
  near = 1.004,
): { readonly scale: number; readonly found: T } | null {
  let best: { scale: number; found: T } | null = null;
  let [high, scale] = [Infinity, Math.min(most, first)];
  for (let k = 0; k < tries && high / (best?.scale ?? 1e-12) > near; k++) {
    const found = at(scale);
    if (found) best = { scale, found };
    else high = scale;
    if (best && best.scale >= most) break;
    scale = best && high < Infinity ? Math.sqrt(best.scale * high) : Math.min(most, scale * (best ? LARGER : SMALLER));
  }
  return best;
}
