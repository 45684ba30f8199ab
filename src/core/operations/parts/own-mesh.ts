import { z } from "zod";
import { bareShape, placedShape, type Shape, shapeOf, withParts } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { partsInScope } from "../scope";
import { count } from "../words";

const options = z.object({});

/** Gives parts that share a mesh and a layout with another their own. */
export const ownMesh: EditOperation<Record<string, never>> = {
  id: "own-mesh",
  title: "Make unique",
  about: "Gives parts that share a mesh and its layout a copy of their own.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  picks: true,
  options,
  run(asset, scope, _, { freshId }) {
    if (!scope.picked && !scope.selection) throw new UserError("Pick a part first.");
    const picked = new Set(partsInScope(asset, scope).map((p) => p.id));
    const shapes: Shape[] = [];
    const parts = asset.parts.map((part) => {
      const { parts: sharing } = placedShape(asset, part.shape);
      // Where all that share a shape are picked, the first keeps it.
      const keeps = sharing.every((p) => picked.has(p.id)) && sharing[0] === part;
      if (!picked.has(part.id) || sharing.length === 1 || keeps) return part;
      const own = { ...bareShape(shapeOf(asset, part)), id: freshId("m") };
      shapes.push(own);
      return { ...part, shape: own.id };
    });
    if (!shapes.length) throw new UserError("These parts share their mesh with no other.");
    return {
      asset: withParts(asset, parts, shapes),
      words: `Make ${count(shapes.length, "part")} unique`,
      notes: [],
    };
  },
};
