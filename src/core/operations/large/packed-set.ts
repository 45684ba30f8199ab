import type { Asset } from "../../layout/asset";
import { shapesOf, withLayouts } from "../../layout/asset";
import type { EditContext, EditResult, Scope } from "../operation";
import { freeExport, freeName, withNewSet } from "../sets/set-tools";
import { count } from "../words";
import { packLayouts } from "./pack";
import type { PackOptions } from "./pack-options";
import { allShells } from "./pack-work";

/** Makes a UV set in which everything with coordinates in the target set is packed into one tile; the target stays as it is. */
export async function run(
  asset: Asset,
  scope: Scope,
  { name, ...packing }: PackOptions & { readonly name: string },
  context: EditContext,
): Promise<EditResult> {
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
  const packed = await packLayouts(beside, work, packing, id, context);
  return {
    asset: withLayouts(beside, packed.changes),
    words: `Packed set ${info.name}: ${count(packed.shells, "shell")}${packed.stopped ? ", stopped early" : ""}`,
    notes: [],
    ...(packed.stopped ? { stopped: true } : {}),
    target: id,
  };
}
