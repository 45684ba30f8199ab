import type { Asset } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { UserError } from "../../layout/user-error";
import type { EditContext, EditResult, Scope } from "../operation";
import { pickedPoints } from "../picked-points";
import type { Rest } from "../straighten/rest";
import { laidShells, laidStraight } from "./straightened-shells";

interface AlignPointsInput {
  readonly line: "u" | "v";
  readonly at: "least" | "middle" | "greatest";
  readonly rest: Rest;
}

/** Puts points on one line across or upright. */
export function run(asset: Asset, scope: Scope, options: AlignPointsInput, context: EditContext): Promise<EditResult> {
  const d = options.line === "u" ? 0 : 1;
  const picked = new Map(pickedPoints(asset, scope).map((own) => [own.shape.id, own]));
  let [low, high] = [Infinity, -Infinity];
  for (const { layout, picked: flags } of picked.values())
    flags.forEach((on, w) => {
      if (!on) return;
      low = Math.min(low, layout.uv[2 * w + d]!);
      high = Math.max(high, layout.uv[2 * w + d]!);
    });
  const at = { least: low, middle: (low + high) / 2, greatest: high }[options.at];
  const work = laidShells(asset, scope).flatMap((own) => {
    const flags = picked.get(own.shape.id)!.picked;
    const to = own.uv.slice();
    const held = Uint8Array.from(own.form.wedges, (w) => (flags[w] && !getBit(own.layout.pinned, w) ? 1 : 0));
    held.forEach((on, i) => {
      if (on) to[2 * i + d] = at;
    });
    return held.some(Boolean) ? [{ ...own, to, held }] : [];
  });
  if (!work.length) throw new UserError("These points are pinned: unpin them first.");
  return laidStraight(asset, scope, work, options.rest, context, { doing: "Align points of" });
}
