import type { Asset } from "../../layout/asset";
import { shapesOf, withLayouts } from "../../layout/asset";
import type { EditContext, EditResult, Scope } from "../operation";
import { freeExport, freeName, withNewSet } from "../sets/set-tools";
import { count } from "../words";
import { allShells, type PackOptions, packLayouts } from "./pack";

/** Makes a UV set in which everything with coordinates in the target set is packed into one tile; the target stays as it is. */
export function run(
  asset: Asset,
  scope: Scope,
  { name, ...packing }: PackOptions & { readonly name: string },
  context: EditContext,
): EditResult {
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
}
