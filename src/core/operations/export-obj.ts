import { z } from "zod";
import { namesNotWritten, seamsNotWritable } from "../check/handoff-warnings";
import { wholeParts } from "../layout/assembly";
import { type Asset, laidImages, sourceBytes, type UvSetId } from "../layout/asset";
import type { ExportOperation } from "./operation";
import { findingWarnings, seamWarnings } from "./words";

/** OBJ with MTL; an asset that came from an OBJ goes back into it. */
export const exportObj: ExportOperation<Record<string, never>> = {
  id: "export-obj",
  title: "Export OBJ",
  about: "Writes OBJ with MTL. An asset that came from an OBJ file keeps everything but its texture points.",
  kind: "export",
  stage: "hand-off",
  heading: "Files",
  ending: ".obj",
  acts: "parts",
  options: z.object({}),
  async run(asset, scope, _, context) {
    const { writeObj } = await import("../formats/obj-write");
    const { obj, mtl, mtlName, inPlace, images } = writeObj(wholeParts(asset), asset.name, scope.set);
    const files = [{ name: `${asset.name}.obj`, type: "model/obj", bytes: obj }];
    const ownMtl = !inPlace;
    if (ownMtl && asset.materials.length) files.push({ name: mtlName, type: "model/mtl", bytes: mtl }, ...images);
    else if (inPlace) files.push(...images.filter((i) => i.redrawn));
    const rewritten = asset.source.format === "obj" && !inPlace;
    const warnings = rewritten
      ? ["The parts no longer fit the numbering of the file they came from, so the OBJ is written from scratch."]
      : [];
    if (inPlace) {
      const { readObj } = await import("../formats/obj-read");
      warnings.push(...namesNotWritten(asset, readObj(sourceBytes(asset)!, { name: asset.source.name })));
      const redrawn = images.filter((i) => i.redrawn).map((i) => i.name);
      if (redrawn.length)
        warnings.push(
          `The OBJ goes on naming the MTL it came with: let its materials use ${redrawn.join(", ")}, drawn for this layout.`,
        );
    }
    if (ownMtl) warnings.push(...imagesElsewhere(asset, scope.set));
    const seams = seamWarnings(seamsNotWritable(asset, scope.set));
    return { files, warnings: [...warnings, ...seams, ...findingWarnings(asset, [scope.set], context)] };
  },
};

/** OBJ holds one set of coordinates: images that are mapped by another come out wrong. */
function imagesElsewhere({ materials, sets }: Asset, set: UvSetId): string[] {
  const others = new Set(
    materials.flatMap((m) => laidImages(m).flatMap((laid) => (laid.set !== set ? [laid.set] : []))),
  );
  const names = sets.filter((s) => others.has(s.id)).map((s) => s.name);
  return names.length
    ? [`Images that are mapped by ${names.join(" and ")} will be drawn with the wrong coordinates.`]
    : [];
}
