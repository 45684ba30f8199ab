import { z } from "zod";
import { withParts } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { pickedParts } from "./picked-parts";

const options = z.object({});

/** Gives parts that share a mesh and a layout with another their own. */
export const ownMesh: EditOperation<Record<string, never>> = {
  id: "own-mesh",
  title: "Give its own mesh",
  about: "Gives parts that share a mesh and a layout with another their own.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  options,
  run(asset, scope) {
    const picked = new Set(
      pickedParts(asset, scope)
        .flatMap((p) => (p.instanceOf === undefined ? asset.parts.filter((q) => q.instanceOf === p.id) : [p]))
        .map((p) => p.id),
    );
    if (!picked.size) throw new UserError("These parts share their mesh with no other.");
    return {
      asset: withParts(
        asset,
        asset.parts.map((p) => {
          if (!picked.has(p.id)) return p;
          const { instanceOf: _, ...rest } = p;
          return rest;
        }),
      ),
      words: `Give ${count(picked.size, "part")} an own mesh`,
      notes: [],
    };
  },
};
