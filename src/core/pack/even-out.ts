/** Shells on a page, and what it holds. */
export interface PageLoad {
  readonly members: readonly number[];
  /** Area of shells that it holds at a scale of 1: what lies on it times the square of the scale that this came to. */
  readonly holds: number;
}

/** So many shells and no more are looked at in pairs: beyond, one alone is moved. */
const PAIRS = 40_000;

/**
 * What moves from one page to another so that both come to scales as near as they can: one shell, or one for another.
 *
 * @param areas by shell @param skip how many of the best moves are passed over
 * @returns the members of both then, null where no move brings the first page more than it costs the second
 */
export function evenedOut(
  from: PageLoad,
  to: PageLoad,
  areas: readonly number[],
  skip = 0,
): readonly [number[], number[]] | null {
  const [own, others] = [areaOn(from, areas), areaOn(to, areas)];
  const wanted = (to.holds * own - from.holds * others) / (from.holds + to.holds);
  // With so much more the second page would be where the first is now.
  const most = (to.holds * own) / from.holds - others;
  const moves: Array<{ off: number; shell: number; other: number | null }> = [];
  const consider = (shell: number, other: number | null) => {
    const area = areas[shell]! - (other === null ? 0 : areas[other]!);
    if (area > 0 && area < most) moves.push({ off: Math.abs(area - wanted), shell, other });
  };
  const inPairs = from.members.length * to.members.length <= PAIRS;
  for (const shell of from.members) {
    if (from.members.length > 1) consider(shell, null);
    if (inPairs) for (const other of to.members) consider(shell, other);
  }
  const best = moves.sort((a, b) => a.off - b.off || a.shell - b.shell || (a.other ?? -1) - (b.other ?? -1))[skip];
  if (!best) return null;
  const { shell, other } = best;
  const left = from.members.filter((i) => i !== shell);
  const joined = [...to.members.filter((i) => i !== other), shell];
  if (other !== null) left.push(other);
  return [left, joined];
}

const areaOn = ({ members }: PageLoad, areas: readonly number[]): number =>
  members.reduce((sum, i) => sum + areas[i]!, 0);
