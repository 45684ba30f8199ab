import type { z } from "zod";
import type { EditOperation } from "../operation";
import { namedOptions, selectionNamed } from "./named";

/** Forgets a named selection. */
export const forgetSelection: EditOperation<z.infer<typeof namedOptions>> = {
  id: "forget-selection",
  title: "Forget a named selection",
  about: "Takes a selection off the list of those that are named; what it holds is not changed.",
  kind: "edit",
  stage: "seams",
  heading: "Named selections",
  acts: "asset",
  locked: "may",
  options: namedOptions,
  run(asset, _, { name }) {
    const gone = selectionNamed(asset, name);
    return {
      asset: { ...asset, selections: asset.selections.filter((s) => s !== gone) },
      words: `Forget the selection ${name}`,
      notes: [],
    };
  },
};
