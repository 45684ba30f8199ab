import { z } from "zod";
import { UserError } from "../../layout/user-error";
import type { SelectOperation } from "../operation";
import { partsInScope } from "../scope";
import { count } from "../words";

const options = z.object({
  material: z
    .string()
    .default("")
    .meta({ title: "Material", description: "Faces of this material", from: "materials" }),
});

/** Picks the visible faces of a material; without a name, of the materials of what is picked. */
export const pickByMaterial: SelectOperation<z.infer<typeof options>> = {
  id: "pick-by-material",
  title: "Pick by material",
  about: "Picks all visible faces of a material.",
  kind: "select",
  stage: "brief",
  acts: "asset",
  options,
  run(asset, scope, { material }) {
    const wanted = material ? asset.materials.findIndex((m) => m.name === material) : 0;
    if (wanted < 0 || !asset.materials.length) throw new UserError("There is no such material.");
    let total = 0;
    const items = new Map<string, Uint32Array>();
    for (const part of partsInScope(asset, { ...scope, selection: undefined })) {
      const faces: number[] = [];
      part.mesh.faceMaterial.forEach((m, f) => {
        if (m === wanted) faces.push(f);
      });
      if (faces.length) items.set(part.id, Uint32Array.from(faces));
      total += faces.length;
    }
    return {
      selection: { kind: "faces", items },
      words: `${count(total, "face")} of ${asset.materials[wanted]!.name}.`,
    };
  },
};
