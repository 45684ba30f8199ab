import type { Asset } from "../../layout/asset";
import { shapesOf, withLayouts } from "../../layout/asset";
import { carryLayouts } from "../../layout/carry";
import { UserError } from "../../layout/user-error";
import { turnedOver } from "../../transfer/carry-over";
import { matchMeshes } from "../../transfer/match";
import type { EditContext, EditResult, Note, Scope } from "../operation";
import { shapesInScope } from "../scope";
import { importedAsset } from "../transfer/imported-asset";
import { count } from "../words";

/** Lays the layout of another copy of the mesh, or a layout written alone, on the parts of the asset. */
export function run(asset: Asset, scope: Scope, _: unknown, context: EditContext): EditResult {
  const imported = importedAsset(context);
  const notes: Note[] = [];
  const free = new Set(shapesOf(imported));
  const changes = shapesInScope(asset, scope).flatMap((shape) => {
    const sameSize = [...free].filter((s) => s.mesh.cornerVertex.length === shape.mesh.cornerVertex.length);
    const named = sameSize.sort((a, b) => Number(b.name === shape.name) - Number(a.name === shape.name));
    for (const source of named) {
      const layout = source.layouts.get(imported.sets[0]!.id);
      const match = layout && matchMeshes(source.mesh, shape.mesh);
      if (!layout || !match) continue;
      free.delete(source);
      const carried = carryLayouts(shape.mesh, [{ mesh: source.mesh, layout, corner: match.corner }]);
      return [{ shape: shape.id, set: scope.set, layout: turnedOver(shape.mesh, carried, match.mirrored) }];
    }
    notes.push({ words: `No part of ${imported.source.name} has the topology of ${shape.name}.`, shells: [] });
    return [];
  });
  if (!changes.length) throw new UserError(notes[0]?.words ?? "The file lays none of these parts.");
  const words = `Lay ${imported.source.name} on ${count(changes.length, "part")}`;
  return { asset: withLayouts(asset, changes), words, notes };
}
