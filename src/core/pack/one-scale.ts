/** Scales that differ by no more than this share are one. */
export const ROUNDED = 1e-9;
/** What all parts come to is made smaller by this where one of them cannot be laid at it, so often. */
const [SMALLER, TIMES] = [0.996, 75];

/**
 * Lays parts at one scale: the largest from one on, going down, at which all of them can be laid.
 *
 * @param above no scale up to this is of use @param at a part at a scale, null where it cannot be laid
 */
export async function atOneScale<P, R>(
  parts: readonly P[],
  from: number,
  above: number,
  at: (part: P, scale: number) => Promise<R | null>,
): Promise<{ readonly scale: number; readonly laid: readonly R[] } | null> {
  let scale = from;
  for (let turn = 0; turn < TIMES && scale > above; turn++, scale *= SMALLER) {
    const tried = scale;
    const laid = await Promise.all(parts.map((part) => at(part, tried)));
    if (laid.every((one) => one !== null)) return { scale, laid: laid as R[] };
  }
  return null;
}
