import { z } from "zod";
import { shapesOf, withLayouts } from "../../layout/asset";
import { carryLayouts } from "../../layout/carry";
import { UserError } from "../../layout/user-error";
import { turnedOver } from "../../transfer/carry-over";
import { matchMeshes } from "../../transfer/match";
import type { EditOperation, Note } from "../operation";
import { shapesInScope } from "../scope";
import { count } from "../words";
import { importedAsset } from "./imported-asset";

/** Lays the layout of another copy of the mesh, or a layout written alone, on the parts of the asset. */
export const layLayout: EditOperation<Record<string, never>> = {
  id: "lay-layout",
  title: "Lay a layout on",
  about:
    "Takes the layout of a file with the same mesh, or a layout exported alone, into the target UV set. The mesh stays as it is.",
  kind: "edit",
  stage: "brief",
  heading: "Files",
  acts: "parts",
  needs: "file",
  big: true,
  options: z.object({}),
  run(asset, scope, _, context) {
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
  },
};
