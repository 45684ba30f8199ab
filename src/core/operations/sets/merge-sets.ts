import { z } from "zod";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { layoutOf } from "../scope";
import { count } from "../words";
import { unlaidFaces, withFacesFrom } from "./face-copies";
import { otherOption, otherSet, reordered } from "./set-tools";

const options = z.object({ other: otherOption });

/** Gives faces without coordinates in the target UV set those they have in another; what is laid already stays. */
export const mergeSets: EditOperation<z.infer<typeof options>> = {
  id: "merge-sets",
  title: "Merge a set into the target",
  about: "Gives faces without coordinates in the target UV set those they have in another; what is laid already stays.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  big: true,
  options,
  run(asset, scope, { other }) {
    const from = otherSet(asset, scope.set, other);
    let total = 0;
    const next = reordered(asset, (part) => {
      const source = part.uvSets[from];
      const list = asset.sets.map((_, i) => part.uvSets[i]);
      if (!source || part.locked !== undefined) return list;
      const own = layoutOf(part, scope.set);
      const faces = unlaidFaces(part, own, source);
      total += faces.length;
      if (faces.length) list[scope.set] = withFacesFrom(part.mesh, own, source, faces);
      return list;
    });
    if (!total) throw new UserError("The other set lays no face that this one lacks.");
    const words = `Merge ${count(total, "face")} of ${asset.sets[from]!.name} into ${asset.sets[scope.set]!.name}`;
    return { asset: next, words, notes: [] };
  },
};
