import { z } from "zod";
import type { Asset, ShapeId } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { Scope, SelectOperation } from "../operation";
import { facesInScope, shapesInScope } from "../scope";
import { count } from "../words";

const options = z.object({
  material: z.string().default("").meta({
    title: "Material",
    description: "Faces of this material; left empty, of the materials of what is picked",
    from: "materials",
  }),
});

/** Picks the visible faces of a material; without a name, of the materials of what is picked. */
export const pickByMaterial: SelectOperation<z.infer<typeof options>> = {
  id: "pick-by-material",
  title: "Pick by material",
  about: "Picks all visible faces of a material, or of the materials of what is picked.",
  kind: "select",
  stage: "brief",
  heading: "Parts",
  acts: "asset",
  options,
  run(asset, scope, { material }) {
    const wanted = material ? named(asset, material) : ofPicked(asset, scope);
    let total = 0;
    const items = new Map<ShapeId, Uint32Array>();
    for (const shape of shapesInScope(asset, { set: scope.set, parts: scope.parts })) {
      const faces: number[] = [];
      shape.mesh.faceMaterial.forEach((m, f) => {
        if (wanted.has(m)) faces.push(f);
      });
      if (faces.length) items.set(shape.id, Uint32Array.from(faces));
      total += faces.length;
    }
    const names = [...new Set([...wanted].map((m) => asset.materials[m]?.name ?? "no material"))];
    return { selection: { kind: "faces", items }, words: `${count(total, "face")} of ${names.join(", ")}.` };
  },
};

/** All materials of a name: files may have several. @throws UserError when there is none */
function named(asset: Asset, name: string): Set<number> {
  const found = asset.materials.flatMap((m, i) => (m.name === name ? [i] : []));
  if (!found.length) throw new UserError("There is no such material.");
  return new Set(found);
}

/** Materials of the picked faces. @throws UserError when nothing is picked */
function ofPicked(asset: Asset, scope: Scope): Set<number> {
  if (!scope.selection && !scope.picked)
    throw new UserError("Say which material, or pick a face of the material first.");
  const out = new Set<number>();
  for (const { shape, faces } of facesInScope(asset, scope))
    for (const f of faces) out.add(shape.mesh.faceMaterial[f]!);
  return out;
}
