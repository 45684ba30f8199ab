import type { Asset } from "../../layout/asset";
import { shellName, structureOf } from "../../layout/layout";
import { UserError } from "../../layout/user-error";
import { regularBorder } from "../../straighten/regular-outline";
import { borderLengths, formOf } from "../../unfold/shell-mesh";
import type { EditContext, EditResult, Note, Scope } from "../operation";
import type { Rest } from "../straighten/rest";
import { pickPoints, putPoints } from "./straighten-edges";
import { type LaidShell, laidShells, laidStraight, type Straightened } from "./straightened-shells";

interface RegularOutlineInput {
  /** Per cent of a side's length. */
  readonly within: number;
  readonly rest: Rest;
}

/** Makes the outlines of shells regular. */
export function run(asset: Asset, scope: Scope, input: RegularOutlineInput, context: EditContext): Promise<EditResult> {
  const notes: Note[] = [];
  const work = laidShells(asset, scope).flatMap((own) => {
    const found = withRegularBorders(own, input.within / 100);
    if (found) return [found];
    const { shape, layout, shell } = own;
    if (scope.selection)
      notes.push({
        words: `Shell ${shell + 1} of ${shape.name} stays as it is: no side of it is near a line or an arc.`,
        shells: [{ shape: shape.id, face: shellName(structureOf(shape.mesh, layout), shell) }],
      });
    return [];
  });
  if (!work.length) throw new UserError("No side of these shells is near a line or an arc: allow more.");
  return laidStraight(asset, scope, work, input.rest, context, { doing: "Make regular the outlines of", notes });
}

function withRegularBorders(own: LaidShell, within: number): Straightened | null {
  const to = own.uv.slice();
  const held = new Uint8Array(to.length / 2);
  for (const loop of formOf(own.form).loops) {
    const border = { uv: pickPoints(own.uv, loop), lengths: borderLengths(own.form, loop) };
    const regular = regularBorder(border, within);
    if (!regular) continue;
    putPoints(to, loop, regular);
    for (const p of loop) held[p] = 1;
  }
  return held.some(Boolean) ? { ...own, to, held } : null;
}
