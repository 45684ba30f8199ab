import { z } from "zod";
import { remembered, splitPart, withRemembered } from "../../layout/assembly";
import type { Remembered } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { faceCount } from "../../mesh/poly-mesh";
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
  heading: "Parts",
  acts: "faces",
  picks: true,
  big: true,
  options,
  run(asset, scope, { name }, { freshId }) {
    if (!scope.selection) throw new UserError("Pick faces or shells first.");
    const pieces = new Map<string, Remembered[]>();
    for (const { shape, faces } of facesInScope(asset, scope)) {
      if (!faces.length) continue;
      if (faces.length === faceCount(shape.mesh))
        throw new UserError(`These are all the faces of ${shape.name}; there is nothing to split it from.`);
      if (shape.parts.length > 1) throw new UserError(`${shape.name} is shared by other parts: make it unique first.`);
      const part = shape.parts[0]!;
      pieces.set(part.id, splitPart(remembered(asset, part), faces, name || `${part.name} piece`, freshId));
    }
    if (!pieces.size) throw new UserError("Pick faces or shells first.");
    return {
      asset: withRemembered(
        asset,
        asset.parts.flatMap((p) => pieces.get(p.id) ?? [remembered(asset, p)]),
      ),
      words: `Split off ${count(pieces.size, "piece")}`,
      notes: [],
    };
  },
};
