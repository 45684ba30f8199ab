import { z } from "zod";
import type { EditOperation } from "../operation";
import { targetSet } from "../scope";
import { freeExport, freeName, nameOption, withNewSet } from "./set-tools";

const options = z.object({ name: nameOption });

/** Copies the target UV set to a new one and makes that the target. */
export const duplicateSet: EditOperation<z.infer<typeof options>> = {
  id: "duplicate-set",
  title: "Duplicate the target set",
  about: "Copies the target UV set to a new one and makes that the target.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  locked: "may",
  options,
  run(asset, scope, { name }, { freshId }) {
    const id = freshId("s");
    const now = targetSet(asset, scope);
    const info = { ...now, id, name: freeName(asset, name || `${now.name} copy`), exportAs: freeExport(asset) };
    return {
      asset: withNewSet(asset, asset.sets.indexOf(now) + 1, info, (shape) => shape.layouts.get(now.id)),
      words: `Duplicate UV set ${now.name} as ${info.name}`,
      notes: [],
      target: id,
    };
  },
};
