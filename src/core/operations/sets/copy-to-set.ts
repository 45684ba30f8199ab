import { z } from "zod";
import { withLayouts } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { facesInScope, layoutOf, targetSet } from "../scope";
import { count } from "../words";
import { withFacesFrom } from "./face-copies";
import { otherOption, otherSet } from "./set-tools";

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
    const changes = facesInScope(asset, scope).flatMap(({ shape, faces }) => {
      const source = shape.layouts.get(scope.set);
      if (!source || !faces.length) return [];
      total += faces.length;
      const layout = withFacesFrom(shape.mesh, layoutOf(shape, to.id), source, faces);
      return [{ shape: shape.id, set: to.id, layout }];
    });
    if (!total) throw new UserError("These faces have nothing to copy in the target set.");
    return {
      asset: withLayouts(asset, changes),
      words: `Copy ${count(total, "face")} from ${targetSet(asset, scope).name} to ${to.name}`,
      notes: [],
    };
  },
};
