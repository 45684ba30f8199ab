import type { Asset } from "../../layout/asset";
import { structureOf } from "../../layout/layout";
import { UserError } from "../../layout/user-error";
import { topologyOf } from "../../mesh/topology";
import { length3 } from "../../numeric/length";
import { type Line, type Run, runsOf, straightened } from "../../straighten/edge-runs";
import type { Spacing } from "../../straighten/quad-grid";
import type { EditContext, EditResult, Note, Scope } from "../operation";
import type { Rest } from "../straighten/rest";
import { type LaidShell, laidShells, laidStraight } from "./straightened-shells";

interface StraightenEdgesInput {
  readonly line: Line;
  readonly spacing: Spacing;
  readonly rest: Rest;
}

/** Lays runs of edges on straight lines. */
export function run(
  asset: Asset,
  scope: Scope,
  options: StraightenEdgesInput,
  context: EditContext,
): Promise<EditResult> {
  const notes: Note[] = [];
  let closed = 0;
  const work = laidShells(asset, scope).flatMap((own) => {
    const to = own.uv.slice();
    const held = new Uint8Array(to.length / 2);
    for (const line of runsIn(own, scope)) {
      if (line.isClosed) {
        closed++;
        continue;
      }
      const { points } = line;
      const lengths = lengthsOf(own, points, options.spacing);
      const laid = straightened(pickPoints(own.uv, points), lengths, options.line);
      putPoints(to, points, laid);
      for (const p of points) held[p] = 1;
    }
    return held.some(Boolean) ? [{ ...own, to, held }] : [];
  });
  if (closed && !work.length)
    throw new UserError("Runs that close upon themselves have no ends to be straight between.");
  if (!work.length) throw new UserError("Pick edges of shells that have coordinates first.");
  if (closed) notes.push({ words: "Runs that close upon themselves were left as they are.", shells: [] });
  return laidStraight(asset, scope, work, options.rest, context, { doing: "Straighten edges of", notes });
}

/**
 * Runs of picked edges of a shell, by its points; an edge that is a seam of the shell on both sides is there twice.
 *
 * @throws UserError where no edges are picked
 */
export function runsIn({ shape, layout, pointOf }: LaidShell, { selection }: Scope): Run[] {
  if (selection?.kind !== "edges") throw new UserError("Pick edges first.");
  const { mesh } = shape;
  const s = structureOf(mesh, layout);
  const t = topologyOf(mesh);
  const pairs = new Map<string, [number, number]>();
  for (const e of selection.items.get(shape.id) ?? [])
    for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++) {
      const c = t.edgeCorners[k]!;
      const [a, b] = [pointOf.get(s.cornerWedge[c]!), pointOf.get(s.cornerWedge[t.cornerNext[c]!]!)];
      if (a !== undefined && b !== undefined && a !== b) pairs.set(a < b ? `${a},${b}` : `${b},${a}`, [a, b]);
    }
  return runsOf([...pairs.values()]);
}

/** Lengths on the sheet from each point to the next: those of space at the shell's density, or all alike. */
export function lengthsOf({ form, density }: LaidShell, points: readonly number[], spacing: Spacing): number[] {
  const { positions: p } = form;
  const lengths = points.slice(1).map((b, i) => {
    const a = points[i]!;
    return density * length3(p[3 * b]! - p[3 * a]!, p[3 * b + 1]! - p[3 * a + 1]!, p[3 * b + 2]! - p[3 * a + 2]!);
  });
  const mean = lengths.reduce((sum, l) => sum + l, 0) / (lengths.length || 1);
  return spacing === "even" ? lengths.map(() => mean) : lengths;
}

export function pickPoints(uv: Float64Array, points: ArrayLike<number>): Float64Array {
  const out = new Float64Array(2 * points.length);
  for (let i = 0; i < points.length; i++) {
    out[2 * i] = uv[2 * points[i]!]!;
    out[2 * i + 1] = uv[2 * points[i]! + 1]!;
  }
  return out;
}

export function putPoints(to: Float64Array, points: readonly number[], uv: Float64Array): void {
  points.forEach((p, i) => {
    to[2 * p] = uv[2 * i]!;
    to[2 * p + 1] = uv[2 * i + 1]!;
  });
}
