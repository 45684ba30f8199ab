import { z } from "zod";
import { layoutParts, withParts } from "../../layout/asset";
import { carryLayouts } from "../../layout/carry";
import { UserError } from "../../layout/user-error";
import { turnedOver } from "../../transfer/carry-over";
import { matchMeshes } from "../../transfer/match";
import type { EditOperation, Note } from "../operation";
import { count } from "../words";
import { broughtAsset } from "./brought";

/** Lays the layout of another copy of the mesh, or a layout written alone, on the parts of the asset. */
export const layLayout: EditOperation<Record<string, never>> = {
  id: "lay-layout",
  title: "Lay a layout on",
  about:
    "Takes the layout of a file with the same mesh, or a layout exported alone, into the target UV set. The mesh stays as it is.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  needs: "file",
  big: true,
  options: z.object({}),
  run(asset, scope, _, context) {
    const brought = broughtAsset(context);
    const notes: Note[] = [];
    let laid = 0;
    const free = new Set(layoutParts(brought));
    const parts = asset.parts.map((part) => {
      if (part.instanceOf !== undefined) return part;
      const sameSize = [...free].filter((p) => p.mesh.cornerVertex.length === part.mesh.cornerVertex.length);
      const named = sameSize.sort((a, b) => Number(b.name === part.name) - Number(a.name === part.name));
      for (const source of named) {
        const layout = source.uvSets[0];
        const match = layout && matchMeshes(source.mesh, part.mesh);
        if (!layout || !match) continue;
        free.delete(source);
        laid++;
        const carried = carryLayouts(part.mesh, [{ mesh: source.mesh, layout, corner: match.corner }]);
        const uvSets = asset.sets.map((_set, i) =>
          i === scope.set ? turnedOver(part.mesh, carried, match.mirrored) : part.uvSets[i],
        );
        return { ...part, uvSets };
      }
      notes.push({ words: `No part of ${brought.source.name} is joined as ${part.name} is.`, shells: [] });
      return part;
    });
    if (!laid) throw new UserError(notes[0]?.words ?? "The file lays none of these parts.");
    return { asset: withParts(asset, parts), words: `Lay ${brought.source.name} on ${count(laid, "part")}`, notes };
  },
};
