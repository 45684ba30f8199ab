import { z } from "zod";
import { laidImages, withLaid } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { targetSet } from "../scope";
import { count } from "../words";

const options = z.object({
  material: z
    .string()
    .default("")
    .meta({ title: "Material", description: "Material with an image; left empty, all of them", from: "materials" }),
});

/** Maps the images of materials by the target UV set. */
export const textureSet: EditOperation<z.infer<typeof options>> = {
  id: "texture-set",
  title: "Use this set for an image",
  about: "Maps the image of a material, or of all, by the target UV set.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  locked: "may",
  options,
  run(asset, scope, { material }) {
    const set = targetSet(asset, scope);
    const wanted = asset.materials.filter((m) => laidImages(m).length && (!material || m.name === material));
    if (!wanted.length) throw new UserError("No such material has an image.");
    const materials = asset.materials.map((m) =>
      wanted.includes(m) ? withLaid(m, ({ image }) => ({ image, set: set.id })) : m,
    );
    return {
      asset: { ...asset, materials },
      words: `Lay ${count(wanted.length, "material")} by ${set.name}`,
      notes: [],
    };
  },
};
