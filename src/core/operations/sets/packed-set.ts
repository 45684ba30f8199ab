import { z } from "zod";
import { freshId, layoutParts, withLayouts } from "../../layout/asset";
import type { EditOperation } from "../operation";
import { packLayouts, packOptions } from "../pack";
import { count } from "../words";
import { freeExport, freeName, nameOption, withNewSet } from "./set-tools";

const options = z.object({ name: nameOption, ...packOptions.shape });

/** Makes a UV set in which everything the target set lays is packed into one tile; the target stays as it is. */
export const packedSet: EditOperation<z.infer<typeof options>> = {
  id: "packed-set",
  title: "Packed set beside this one",
  about: "Makes a UV set in which everything the target set lays is packed into one tile; the target stays as it is.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  locked: "may",
  options,
  run(asset, scope, { name, ...packing }, context) {
    const id = freshId("s");
    const info = {
      id,
      name: freeName(asset, name || "Packed"),
      purpose: "packed" as const,
      exportAs: freeExport(asset),
    };
    const at = asset.sets.length;
    const beside = withNewSet(asset, at, info, (part) => part.uvSets[scope.set]);
    const work = layoutParts(beside).flatMap((part) => (part.uvSets[at] ? [{ part, layout: part.uvSets[at] }] : []));
    const packed = packLayouts(beside, work, packing, at, context.progress);
    return {
      asset: withLayouts(beside, packed.changes),
      words: `Packed set ${info.name}: ${count(packed.shells, "shell")}`,
      notes: [],
      target: id,
    };
  },
};
