import type { z } from "zod";
import { mapParts, type Part } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { partsInScope } from "../scope";

interface Plan<Options> extends Pick<EditOperation<Options>, "id" | "title" | "about"> {
  readonly options: z.ZodType<Options>;
  /** What becomes of one of the picked parts; `place` counts them. */
  change(part: Part, options: Options, place: number, picked: readonly Part[]): Part;
  /** What was done, for the history. @throws UserError when the options do not do */
  words(picked: readonly Part[], options: Options): string;
}

/** An operation on properties of parts, not on their shapes or layouts: locked parts may be changed as well. */
export function partOperation<Options>({ change, words, ...plan }: Plan<Options>): EditOperation<Options> {
  return {
    ...plan,
    kind: "edit",
    stage: "brief",
    acts: "parts",
    locked: "may",
    picks: true,
    run(asset, scope, options) {
      if (!scope.picked && !scope.selection) throw new UserError("Pick a part first.");
      const picked = partsInScope(asset, scope);
      const sentence = words(picked, options);
      const place = new Map(picked.map((p, i) => [p.id, i]));
      return {
        asset: mapParts(asset, (p) => (place.has(p.id) ? change(p, options, place.get(p.id)!, picked) : p)),
        words: sentence,
        notes: [],
      };
    },
  };
}
