import type { Asset } from "../../layout/asset";
import { shellName, structureOf } from "../../layout/layout";
import { hasPins } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import { flippedIn, meanStretch } from "../../straighten/mean-stretch";
import type { EditContext, EditResult, Note, Scope } from "../operation";
import { asRectangle } from "./rectangle";
import { laidShells, laidStraight } from "./straightened-shells";

interface StraightenAllInput {
  /** Mean stretch that a shell may come to. */
  readonly limit: number;
  /** By how much it may grow. */
  readonly added: number;
}

/** Straightens every shell that gains by it. */
export function run(
  asset: Asset,
  scope: Scope,
  { limit, added }: StraightenAllInput,
  context: EditContext,
): Promise<EditResult> {
  const notes: Note[] = [];
  const shells = laidShells(asset, scope);
  const work = shells.flatMap((own, i) => {
    context.progress((0.5 * i) / shells.length);
    const { shape, layout, shell, form, uv } = own;
    if (hasPins(shape.mesh, layout, shell)) return [];
    const found = asRectangle(own, "as in 3D");
    // Where the rest has to follow by a solve it is not known beforehand what comes of it.
    if (!found?.held.every(Boolean) || flippedIn(form, found.to)) return [];
    const [before, after] = [meanStretch(form, uv), meanStretch(form, found.to)];
    const isStraight = found.to.every((x, k) => Math.abs(x - uv[k]!) < STRAIGHT * own.density);
    if (isStraight) return [];
    const gains = after <= limit && after <= before + added;
    const words = `Shell ${shell + 1} of ${shape.name}: stretch ${before.toFixed(3)} to ${after.toFixed(3)}`;
    const at = [{ shape: shape.id, face: shellName(structureOf(shape.mesh, layout), shell) }];

    notes.push({ words: gains ? `${words}.` : `${words}, left as it is.`, shells: at, done: true });
    return gains ? [found] : [];
  });
  if (!work.length)
    throw new UserError(
      notes.length
        ? "No shell can be a rectangle within that stretch: allow more, or straighten those that you pick."
        : "No shell here is a strip or a patch of quads that is not straight already.",
    );
  return laidStraight(asset, scope, work, "stays", context, { doing: "Straighten", notes });
}

/** In lengths of space: what is off by less is straight. */
const STRAIGHT = 1e-9;
