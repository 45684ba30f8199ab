import { z } from "zod";
import { shapesOf, withLayouts } from "../../layout/asset";
import type { EditOperation } from "../operation";
import { allShells, packLayouts, packOptions } from "../pack";
import { count } from "../words";
import { freeExport, freeName, nameOption, withNewSet } from "./set-tools";

const options = z.object({ name: nameOption, ...packOptions.shape });

/** Makes a UV set in which everything the target set lays is packed into one tile; the target stays as it is. */
export const packedSet: EditOperation<z.infer<typeof options>> = {
  id: "packed-set",
  title: "New packed copy",
  about: "Makes a UV set in which everything the target set lays is packed into one tile; the target stays as it is.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  locked: "may",
  keeps: true,
  options,
  run(asset, scope, { name, ...packing }, context) {
    const id = context.freshId("s");
    const info = {
      id,
      name: freeName(asset, name || "Packed"),
      purpose: "packed" as const,
      exportAs: freeExport(asset),
    };
    const beside = withNewSet(asset, asset.sets.length, info, (shape) => shape.layouts.get(scope.set));
    const work = shapesOf(beside).flatMap((shape) => {
      const layout = shape.layouts.get(id);
      return layout ? [allShells(shape, layout)] : [];
    });
    const packed = packLayouts(beside, work, packing, id, context.progress);
    return {
      asset: withLayouts(beside, packed.changes),
      words: `Packed set ${info.name}: ${count(packed.shells, "shell")}${packed.stopped ? ", stopped early" : ""}`,
      notes: [],
      ...(packed.stopped ? { stopped: true } : {}),
      target: id,
    };
  },
};
