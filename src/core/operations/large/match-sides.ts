import type { Asset } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { matchedSides } from "../../straighten/matched-sides";
import type { Spacing } from "../../straighten/quad-grid";
import type { EditContext, EditResult, Scope } from "../operation";
import type { Rest } from "../straighten/rest";
import { lengthsOf, pickPoints, putPoints, runsIn } from "./straighten-edges";
import { laidShells, laidStraight } from "./straightened-shells";

interface MatchSidesInput {
  readonly spacing: Spacing;
  readonly rest: Rest;
}

/** Makes two picked runs of each shell as long as each other. */
export function run(asset: Asset, scope: Scope, options: MatchSidesInput, context: EditContext): Promise<EditResult> {
  const work = laidShells(asset, scope).flatMap((own) => {
    const runs = runsIn(own, scope).filter(({ isClosed }) => !isClosed);
    if (runs.length !== 2) return [];
    const sides = runs.map(({ points }) => ({
      uv: pickPoints(own.uv, points),
      lengths: lengthsOf(own, points, options.spacing),
    }));
    const matched = matchedSides(sides[0]!, sides[1]!);
    const to = own.uv.slice();
    const held = new Uint8Array(to.length / 2);
    runs.forEach(({ points }, k) => {
      putPoints(to, points, matched[k]!);
      for (const p of points) held[p] = 1;
    });
    return [{ ...own, to, held }];
  });
  if (!work.length) throw new UserError("Pick two runs of edges of a shell first: the sides that are to match.");
  return laidStraight(asset, scope, work, options.rest, context, { doing: "Match sides of" });
}
