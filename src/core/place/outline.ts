/** The outer border of a shell, as points at equal lengths along it, about their middle. */
export interface Outline {
  /** 2 per point; the shell lies to the left. */
  readonly points: Float64Array;
  /** The same from another place on, so many points farther along. */
  from(offset: number): Float64Array;
  readonly middle: readonly [number, number];
  /** Of the whole border, tiles. */
  readonly length: number;
}

/** How one outline lies on another: about their middles, mirrored across first, turned and scaled. */
export interface OutlineMatch {
  /** Where a point (x, y) about the middle goes: (cos x - sin y, sin x + cos y), of (-x, y) where it is mirrored. */
  readonly cos: number;
  readonly sin: number;
  readonly mirrored: boolean;
  /** Root mean square of what lies between them, by the length of the border. */
  readonly off: number;
}

/** Points that an outline is compared by. */
const SAMPLES = 96;

/**
 * The outer border of a shell: of its loops that which encloses most.
 *
 * @param segments 4 numbers each, in any order, as the shell's corners run
 * @returns null where its borders do not close
 */
export function outlineOf(segments: Float64Array): Outline | null {
  let best: number[] | null = null;
  let most = 0;
  for (const loop of loopsOf(segments)) {
    const area = Math.abs(areaOf(loop));
    if (area <= most) continue;
    most = area;
    best = loop;
  }
  return best && sampled(areaOf(best) < 0 ? reversed(best) : best);
}

/** Loops of segments that begin where others end. */
function loopsOf(s: Float64Array): number[][] {
  const from = new Map<string, number[]>();
  for (let i = 0; i < s.length; i += 4) {
    const key = `${s[i]} ${s[i + 1]}`;
    const own = from.get(key);
    if (own) own.push(i);
    else from.set(key, [i]);
  }
  const loops: number[][] = [];
  const done = new Uint8Array(s.length / 4);
  for (let first = 0; first < s.length; first += 4) {
    const loop: number[] = [];
    for (let i: number | undefined = first; i !== undefined && !done[i / 4]; ) {
      done[i / 4] = 1;
      loop.push(s[i]!, s[i + 1]!);
      i = from.get(`${s[i + 2]} ${s[i + 3]}`)?.find((k) => !done[k / 4]);
    }
    if (loop.length >= 6) loops.push(loop);
  }
  return loops;
}

function areaOf(loop: readonly number[]): number {
  let sum = 0;
  for (let i = 0; i < loop.length; i += 2) {
    const k = (i + 2) % loop.length;
    sum += loop[i]! * loop[k + 1]! - loop[k]! * loop[i + 1]!;
  }
  return sum / 2;
}

function reversed(loop: readonly number[]): number[] {
  const out: number[] = [];
  for (let i = loop.length - 2; i >= 0; i -= 2) out.push(loop[i]!, loop[i + 1]!);
  return out;
}

function sampled(loop: readonly number[]): Outline {
  const n = loop.length / 2;
  const at = (i: number, d: number) => loop[2 * (i % n) + d]!;
  const lengths = Array.from({ length: n }, (_, i) => Math.hypot(at(i + 1, 0) - at(i, 0), at(i + 1, 1) - at(i, 1)));
  const length = lengths.reduce((a, b) => a + b, 0);
  const middle = [0, 1].map((d) =>
    lengths.reduce((sum, own, i) => sum + (own / length) * ((at(i, d) + at(i + 1, d)) / 2), 0),
  ) as [number, number];
  const from = (offset: number): Float64Array => {
    const points = new Float64Array(2 * SAMPLES);
    let [edge, before] = [0, 0];
    for (let k = 0; k < SAMPLES; k++) {
      const wanted = ((((k + offset) % SAMPLES) + SAMPLES) % SAMPLES) * (length / SAMPLES);
      if (wanted < before) [edge, before] = [0, 0];
      while (edge < n - 1 && before + lengths[edge]! < wanted) before += lengths[edge++]!;
      const t = lengths[edge]! ? (wanted - before) / lengths[edge]! : 0;
      for (const d of [0, 1]) points[2 * k + d] = at(edge, d) + t * (at(edge + 1, d) - at(edge, d)) - middle[d]!;
    }
    return points;
  };
  return { points: from(0), from, middle, length };
}

/**
 * How an outline lies on another best, turned, moved and scaled: of all places along the border at which it may begin the
 * one with the least squares, as complex numbers have it in closed form.
 *
 * Source: Umeyama, Least-squares estimation of transformation parameters between two point patterns (1991), in the plane.
 */
export function outlineMatch(one: Outline, other: Outline, mirroredToo: boolean): OutlineMatch {
  const plain = bestTurn(one.points, other);
  const found = { ...plain, mirrored: false };
  if (!mirroredToo) return found;
  const turned = new Float64Array(one.points.length);
  // Mirrored across, and gone the other way round, so that the shell lies to the left again.
  for (let k = 0; k < SAMPLES; k++) {
    const from = 2 * ((SAMPLES - k) % SAMPLES);
    turned[2 * k] = -one.points[from]!;
    turned[2 * k + 1] = one.points[from + 1]!;
  }
  const flipped = bestTurn(turned, other);
  // What is no better is not mirrored.
  return flipped.off < found.off * 0.99 ? { ...flipped, mirrored: true } : found;
}

/** Steps in which the place to begin at is found between points. */
const REFINED = 14;

/** The turn and scale that takes points nearest to an outline, over all places of it to begin at. */
function bestTurn(p: Float64Array, other: Outline): { cos: number; sin: number; off: number } {
  let best = 0;
  let least = Infinity;
  for (let shift = 0; shift < SAMPLES; shift++) {
    const { off } = turnBetween(p, other.points, shift);
    if (off >= least) continue;
    least = off;
    best = shift;
  }
  // Between the points beside it, by thirds.
  let [low, high] = [best - 1, best + 1];
  for (let k = 0; k < REFINED; k++) {
    const [a, b] = [low + (high - low) / 3, high - (high - low) / 3];
    if (turnBetween(p, other.from(a), 0).off < turnBetween(p, other.from(b), 0).off) high = b;
    else low = a;
  }
  const [exact, between] = [turnBetween(p, other.points, best), turnBetween(p, other.from((low + high) / 2), 0)];
  return exact.off <= between.off ? exact : between;
}

/** The turn and scale that takes points nearest to others, of which so many are passed over. */
function turnBetween(p: Float64Array, q: Float64Array, shift: number): { cos: number; sin: number; off: number } {
  let [re, im, own, its] = [0, 0, 0, 0];
  for (let i = 0; i < p.length; i += 2) {
    const j = (i + 2 * shift) % q.length;
    const [px, py, qx, qy] = [p[i]!, p[i + 1]!, q[j]!, q[j + 1]!];
    re += px * qx + py * qy;
    im += px * qy - py * qx;
    own += px * px + py * py;
    its += qx * qx + qy * qy;
  }
  const left = Math.max(0, its - (re * re + im * im) / (own || 1));
  return { cos: re / (own || 1), sin: im / (own || 1), off: Math.sqrt(left / (its || 1)) };
}
