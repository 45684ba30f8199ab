import type { Asset } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { length3 } from "../../numeric/length";
import { laidAlong } from "../../straighten/edge-runs";
import type { Spacing } from "../../straighten/quad-grid";
import type { EditContext, EditResult, Scope } from "../operation";
import type { EndForm, Rest } from "../straighten/rest";
import { lengthsOf, pickPoints, putPoints, runsIn } from "./straighten-edges";
import { facePoints, type LaidShell, laidShells, laidStraight } from "./straightened-shells";

interface SquareEndsInput {
  readonly ends: EndForm;
  readonly spacing: Spacing;
  readonly rest: Rest;
}

/** Squares the ends of strips, their last row as deep as it is in space. */
export function run(asset: Asset, scope: Scope, options: SquareEndsInput, context: EditContext): Promise<EditResult> {
  const work = laidShells(asset, scope).flatMap((own) => {
    const to = own.uv.slice();
    const held = new Uint8Array(to.length / 2);
    const beside = besideOf(own);
    for (const { points, isClosed } of runsIn(own, scope)) {
      if (options.ends === "as they run") {
        if (deepened(own, points, beside, to)) for (const p of points) held[p] = 1;
        continue;
      }
      const end = isClosed ? null : endOf(own, points, beside);
      if (!end) continue;
      const [x, y] = end.way;
      const laid = laidAlong(pickPoints(own.uv, points), lengthsOf(own, points, options.spacing), [-y, x]);
      // Laid the way the run goes, and moved along the strip until it is as deep as in space.
      const old = pickPoints(own.uv, points);
      const n = points.length;
      const along = (old[2 * n - 2]! - old[0]!) * -y + (old[2 * n - 1]! - old[1]!) * x;
      const run = along < 0 ? laidAlong(old, lengthsOf(own, points, options.spacing), [y, -x]) : laid;
      const middle = [0, 1].map((d) => points.reduce((sum, _, i) => sum + run[2 * i + d]!, 0) / n);
      const by = end.depth - ((middle[0]! - end.row[0]) * x + (middle[1]! - end.row[1]) * y);
      putPoints(
        to,
        points,
        run.map((c, i) => c + by * (i % 2 ? y : x)),
      );
      for (const p of points) held[p] = 1;
    }
    return held.some(Boolean) ? [{ ...own, to, held }] : [];
  });
  if (!work.length)
    throw new UserError("Pick the edges at the end of a strip first: a run with a row of points before it.");
  return laidStraight(asset, scope, work, options.rest, context, { doing: "Square ends of" });
}

/** Points that mesh edges join, by point of a shell. */
function besideOf(own: LaidShell): Map<number, Set<number>> {
  const out = new Map<number, Set<number>>();
  const join = (a: number, b: number) => {
    const list = out.get(a);
    if (list) list.add(b);
    else out.set(a, new Set([b]));
  };
  for (const points of facePoints(own))
    points.forEach((a, k) => {
      const b = points[(k + 1) % points.length]!;
      join(a, b);
      join(b, a);
    });
  return out;
}

interface End {
  /** The way that the strip runs there, outwards; unit. */
  readonly way: readonly [number, number];
  /** The middle of the row before it. */
  readonly row: readonly [number, number];
  /** How far the end lies from that row in space, on the sheet. */
  readonly depth: number;
}

/** Moves the points of a run, each as far from those of the row before it as it is in space. @returns whether there is one */
function deepened(
  { uv, form, density }: LaidShell,
  points: readonly number[],
  beside: Map<number, Set<number>>,
  to: Float64Array,
): boolean {
  const { positions: p } = form;
  const inRun = new Set(points);
  let isEnd = false;
  for (const a of points) {
    const before = [...beside.get(a)!].filter((b) => !inRun.has(b));
    if (!before.length) continue;
    isEnd = true;
    let [u, v] = [0, 0];
    for (const b of before) {
      const depth = length3(p[3 * a]! - p[3 * b]!, p[3 * a + 1]! - p[3 * b + 1]!, p[3 * a + 2]! - p[3 * b + 2]!);
      const [du, dv] = [uv[2 * a]! - uv[2 * b]!, uv[2 * a + 1]! - uv[2 * b + 1]!];
      const size = (density * depth) / (Math.sqrt(du * du + dv * dv) || 1);
      u += (uv[2 * b]! + size * du) / before.length;
      v += (uv[2 * b + 1]! + size * dv) / before.length;
    }
    to[2 * a] = u;
    to[2 * a + 1] = v;
  }
  return isEnd;
}

/** What a run is the end of; null where no points lie before it. */
function endOf(own: LaidShell, points: readonly number[], beside: Map<number, Set<number>>): End | null {
  const { uv, form, density } = own;
  const { positions: p } = form;
  const inRun = new Set(points);
  let [x, y, u, v, depth, count] = [0, 0, 0, 0, 0, 0];
  for (const a of points)
    for (const b of beside.get(a)!) {
      if (inRun.has(b)) continue;
      x += uv[2 * a]! - uv[2 * b]!;
      y += uv[2 * a + 1]! - uv[2 * b + 1]!;
      u += uv[2 * b]!;
      v += uv[2 * b + 1]!;
      depth += length3(p[3 * a]! - p[3 * b]!, p[3 * a + 1]! - p[3 * b + 1]!, p[3 * a + 2]! - p[3 * b + 2]!);
      count++;
    }
  const length = Math.sqrt(x * x + y * y);
  if (!count || !(length > 0)) return null;
  return { way: [x / length, y / length], row: [u / count, v / count], depth: (density * depth) / count };
}
