import { RelaxBrush } from "./relax-brush";
import { formOf, type ShellMesh } from "./shell-mesh";
import { besideOf } from "./shell-pattern";

export interface SmoothBordersOptions {
  /** 1 for every point that may move. */
  readonly moves: Uint8Array;
  /** Spikes and kinks up to this size are smoothed, in the lengths of the layout. */
  readonly size: number;
  readonly passes: number;
  /** Asked between passes, with the share that is done: true to end with what was reached. */
  readonly isOver?: ((share: number) => boolean) | undefined;
}

/** What the border has to turn by over a spike's size to have a corner there, which stays. */
const CORNER = Math.PI / 5;
/** By how much more it has to turn to and fro there than it comes to turn by, to have a spike or a kink. */
const KINK = Math.PI / 8;
/** Rings of points about the border that follow it, and passes that they do so in. */
const [RINGS, FOLLOWING] = [4, 8];
/** Of the way to the middle of its neighbours, how far a point goes with every pass. */
const STEP = 0.5;

/**
 * Smooths spikes and kinks of a shell's borders: points about which it turns to and fro go towards the middle of their
 * neighbours; where it turns for good, in corners and arcs, it stays. What lies about follows with the least stretch; no triangle flips by it.
 *
 * @param uv 2 a point @returns the layout; nothing where no border is rough
 */
export function bordersSmoothed(
  shell: ShellMesh,
  uv: Float64Array,
  { moves, size, passes, isOver }: SmoothBordersOptions,
): Float64Array | null {
  const brush = new RelaxBrush(shell, uv, moves);
  const { loops } = formOf(shell);
  const mayMove = (p: number) => moves[p] === 1;
  const moved = new Set<number>();
  for (let pass = 0; pass < passes && !isOver?.(pass / passes); pass++) {
    const now = brush.uv(uv);
    const rough = loops.flatMap((loop) => roughPoints(loop, now, size)).filter(mayMove);
    if (!rough.length) break;
    brush.touch(
      rough,
      rough.map(() => STEP),
      "smooth",
    );
    for (const p of rough) moved.add(p);
  }
  if (!moved.size) return null;
  const about = ringsAbout(shell, moved, new Set(loops.flat())).filter(mayMove);
  const whole = about.map(() => 1);
  for (let pass = 0; pass < FOLLOWING && about.length; pass++) brush.touch(about, whole, "even");
  return brush.uv(uv);
}

/** By how much the border turns at every point of a loop, to the left. */
function turnsOf(loop: readonly number[], uv: Float64Array): Float64Array {
  const n = loop.length;
  return Float64Array.from(loop, (p, i) => {
    const [a, b] = [loop[(i + n - 1) % n]!, loop[(i + 1) % n]!];
    const [x, y] = [uv[2 * p]! - uv[2 * a]!, uv[2 * p + 1]! - uv[2 * a + 1]!];
    const [z, w] = [uv[2 * b]! - uv[2 * p]!, uv[2 * b + 1]! - uv[2 * p + 1]!];
    return Math.atan2(x * w - y * z, x * z + y * w);
  });
}

/** Points of a loop about which the border turns to and fro within a length: behind a spike it turns back by as much. */
function roughPoints(loop: readonly number[], uv: Float64Array, size: number): number[] {
  const n = loop.length;
  const turns = turnsOf(loop, uv);
  // Three times round, so that nothing ends: how far along the border a point lies, and what it turned by before that, in
  // all and to either side.
  const ways = new Float64Array(3 * n + 1);
  const turned = new Float64Array(3 * n + 1);
  const bent = new Float64Array(3 * n + 1);
  for (let k = 0; k < 3 * n; k++) {
    const [a, b] = [2 * loop[k % n]!, 2 * loop[(k + 1) % n]!];
    ways[k + 1] = ways[k]! + Math.hypot(uv[b]! - uv[a]!, uv[b + 1]! - uv[a + 1]!);
    turned[k + 1] = turned[k]! + turns[k % n]!;
    bent[k + 1] = bent[k]! + Math.abs(turns[k % n]!);
  }
  // From the foot of a spike the other one is twice its size away.
  const reach = Math.min(2 * size, ways[n]! / 2);
  let [from, to] = [0, 0];
  return loop.filter((_, i) => {
    const here = ways[n + i]!;
    while (ways[from]! < here - reach) from++;
    while (to < 3 * n && ways[to]! <= here + reach) to++;
    const net = Math.abs(turned[to]! - turned[from]!);
    return net < CORNER && bent[to]! - bent[from]! - net > KINK;
  });
}

/** Points within some rings about some of a border, without those of the border. */
function ringsAbout(
  { triangles, positions }: ShellMesh,
  some: ReadonlySet<number>,
  border: ReadonlySet<number>,
): number[] {
  const { start, neighbours } = besideOf(triangles, positions.length / 3);
  const seen = new Set(border);
  let ring = [...some];
  const out: number[] = [];
  for (let r = 0; r < RINGS; r++) {
    ring = ring
      .flatMap((p) => [...neighbours.subarray(start[p]!, start[p + 1]!)])
      .filter((p) => {
        if (seen.has(p)) return false;
        seen.add(p);
        return true;
      });
    out.push(...ring);
  }
  return out;
}
