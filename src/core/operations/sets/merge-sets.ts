import { z } from "zod";
import { shapesOf, withLayouts } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { layoutOf, targetSet } from "../scope";
import { count } from "../words";
import { unlaidFaces, withFacesFrom } from "./face-copies";
import { otherOption, otherSet } from "./set-tools";

const options = z.object({ other: otherOption });

/** Gives faces without coordinates in the target UV set those they have in another; faces that have some keep them. */
export const mergeSets: EditOperation<z.infer<typeof options>> = {
  id: "merge-sets",
  title: "Merge a set into the target",
  about:
    "Gives faces without coordinates in the target UV set those they have in another; faces that have some keep them.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  big: true,
  options,
  run(asset, scope, { other }) {
    const from = otherSet(asset, scope.set, other);
    let total = 0;
    const changes = shapesOf(asset).flatMap((shape) => {
      const source = shape.layouts.get(from.id);
      if (!source || shape.parts.some((p) => p.locked !== undefined)) return [];
      const own = layoutOf(shape, scope.set);
      const faces = unlaidFaces(shape, own, source);
      total += faces.length;
      if (!faces.length) return [];
      return [{ shape: shape.id, set: scope.set, layout: withFacesFrom(shape.mesh, own, source, faces) }];
    });
    if (!total) throw new UserError("The other set lays no face that this one lacks.");
    const words = `Merge ${count(total, "face")} of ${from.name} into ${targetSet(asset, scope).name}`;
    return { asset: withLayouts(asset, changes), words, notes: [] };
  },
};
