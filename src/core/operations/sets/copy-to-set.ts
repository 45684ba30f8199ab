import { z } from "zod";
import { UserError } from "../../layout/user-error";
import type { UvSet } from "../../layout/uv-set";
import type { EditOperation } from "../operation";
import { facesInScope, layoutOf } from "../scope";
import { count } from "../words";
import { withFacesFrom } from "./face-copies";
import { otherOption, otherSet, reordered } from "./set-tools";

const options = z.object({ other: otherOption });

/** Copies the coordinates and seams of the picked faces, or of all, from the target UV set to another. */
export const copyToSet: EditOperation<z.infer<typeof options>> = {
  id: "copy-to-set",
  title: "Copy faces to a set",
  about: "Copies the coordinates and seams of the picked faces, or of all, from the target UV set to another.",
  kind: "edit",
  stage: "brief",
  acts: "faces",
  options,
  run(asset, scope, { other }) {
    const to = otherSet(asset, scope.set, other);
    let total = 0;
    const copies = new Map<string, UvSet>();
    for (const { part, faces } of facesInScope(asset, scope)) {
      const source = part.uvSets[scope.set];
      if (!source || !faces.length) continue;
      copies.set(part.id, withFacesFrom(part.mesh, layoutOf(part, to), source, faces));
      total += faces.length;
    }
    if (!total) throw new UserError("These faces have nothing to copy in the target set.");
    return {
      asset: reordered(asset, (part) =>
        asset.sets.map((_, i) => (i === to ? copies.get(part.id) : undefined) ?? part.uvSets[i]),
      ),
      words: `Copy ${count(total, "face")} from ${asset.sets[scope.set]!.name} to ${asset.sets[to]!.name}`,
      notes: [],
    };
  },
};
