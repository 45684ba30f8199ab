import { z } from "zod";
import { splitPart } from "../../layout/assembly";
import { freshId, type Part, withParts } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { facesInScope } from "../scope";
import { count } from "../words";

const options = z.object({
  name: z.string().trim().max(200).default("").meta({ title: "Name", description: "Name of the piece" }),
});

/** Takes the picked faces off their parts as pieces to work on alone; at export the parts are whole again. */
export const splitOff: EditOperation<z.infer<typeof options>> = {
  id: "split-off",
  title: "Split off",
  about: "Makes the picked faces a part of their own to work on; exports have the part whole again, as it came.",
  kind: "edit",
  stage: "brief",
  acts: "faces",
  picks: true,
  big: true,
  options,
  run(asset, scope, { name }) {
    if (!scope.selection) throw new UserError("Pick faces or shells first.");
    const pieces = new Map<string, Part[]>();
    const made: string[] = [];
    for (const { part, faces } of facesInScope(asset, scope)) {
      if (!faces.length) continue;
      if (faces.length === part.mesh.faceStart.length - 1)
        throw new UserError(`These are all the faces of ${part.name}; there is nothing to split it from.`);
      if (asset.parts.some((p) => p.instanceOf === part.id))
        throw new UserError(`${part.name} is shared by other parts: give them their own mesh first.`);
      const id = freshId("p");
      made.push(id);
      pieces.set(part.id, splitPart(part, faces, id, name || `${part.name} piece`));
    }
    if (!made.length) throw new UserError("Pick faces or shells first.");
    return {
      asset: withParts(
        asset,
        asset.parts.flatMap((p) => pieces.get(p.id) ?? [p]),
      ),
      words: `Split off ${count(made.length, "piece")}`,
      notes: [],
    };
  },
};
