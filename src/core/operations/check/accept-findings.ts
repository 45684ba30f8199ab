import { z } from "zod";
import { pairOf } from "../../check/findings";
import { type Measures, measure } from "../../check/measure";
import type { Asset } from "../../layout/asset";
import { type ShellRef, shellName, structureOf } from "../../layout/layout";
import { ACCEPTABLE, type AcceptableKind, type Accepted, acceptedKey, MOST_ACCEPTED } from "../../layout/rules";
import { UserError } from "../../layout/user-error";
import type { EditOperation, Scope } from "../operation";
import { shellsInScope, targetSet } from "../scope";
import { count } from "../words";

const options = z.object({
  kind: z
    .enum(ACCEPTABLE)
    .default("overlap")
    .meta({ title: "What", description: "What of the picked shells is meant" }),
  back: z
    .boolean()
    .default(false)
    .meta({ title: "No longer", description: "Takes back what was accepted of the picked shells" }),
});

const NOUN: Record<AcceptableKind, string> = {
  overlap: "overlap",
  mirrored: "mirrored shell",
  flipped: "flipped shell",
  stretch: "stretched shell",
};

/** What of some kind there is: shells, or pairs of them. */
function foundOf(kind: AcceptableKind, m: Measures, { rules }: Asset): ShellRef[][] {
  if (kind === "overlap") {
    if (m.shells && !m.overlapPairs) throw new UserError("Too many shells overlap to be listed as pairs.");
    return (m.overlapPairs ?? []).map(pairOf);
  }
  const rows = m.perShell.filter((s) =>
    kind === "mirrored" ? s.mirrored : kind === "flipped" ? s.flipped > 0 : s.energy > rules.stretch,
  );
  return rows.map(({ shape, face }) => [{ shape, face }]);
}

/** Tells whether all of some shells are picked. */
function pickedIn(asset: Asset, scope: Scope): (shells: readonly ShellRef[]) => boolean {
  const names = new Set<string>();
  for (const { shape, layout, shells } of shellsInScope(asset, scope)) {
    const s = structureOf(shape.mesh, layout);
    for (const k of shells) names.add(`${shape.id}/${shellName(s, k)}`);
  }
  return (shells) => shells.every((s) => names.has(`${s.shape}/${s.face}`));
}

/** Says of some findings that they are meant: of shells by their names, so that what is cut or joined is looked at again. */
export const acceptFindings: EditOperation<z.infer<typeof options>> = {
  id: "accept-findings",
  title: "Accept findings",
  about: "Accepts overlaps between the picked shells, or their mirroring, flips or stretch, as intended.",
  kind: "edit",
  stage: "check",
  acts: "shells",
  picks: true,
  locked: "may",
  options,
  run(asset, scope, { kind, back }, context) {
    const set = targetSet(asset, scope);
    if (!scope.selection && !scope.picked) throw new UserError("Pick the shells that are meant.");
    const isPicked = pickedIn(asset, scope);
    const here = (a: Accepted) => a.kind === kind && a.set === set.id && isPicked(a.shells);
    const { accepted } = asset.rules;
    const result = (list: Accepted[], words: string) => ({
      asset: { ...asset, rules: { ...asset.rules, accepted: list } },
      words,
      notes: [],
    });
    if (back) {
      const left = accepted.filter((a) => !here(a));
      if (left.length === accepted.length) throw new UserError("Nothing of this was accepted of the picked shells.");
      return result(left, `No longer accept ${count(accepted.length - left.length, NOUN[kind])}`);
    }
    const measures = context.figures?.(asset, set.id) ?? measure(asset, undefined, set.id);
    const known = new Set(accepted.map((a) => acceptedKey(a.kind, a.set, a.shells)));
    const found = foundOf(kind, measures, asset).filter(
      (shells) => isPicked(shells) && !known.has(acceptedKey(kind, set.id, shells)),
    );
    if (!found.length) throw new UserError(`There is no ${NOUN[kind]} to accept among the picked shells.`);
    const list = [...accepted, ...found.map((shells): Accepted => ({ kind, set: set.id, shells }))];
    if (list.length > MOST_ACCEPTED) throw new UserError(`At most ${MOST_ACCEPTED} findings can be accepted.`);
    return result(list, `Accept ${count(found.length, NOUN[kind])}`);
  },
};
