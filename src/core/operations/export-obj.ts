import { z } from "zod";
import { namesNotWritten, seamsNotWritable } from "../check/handoff-warnings";
import { readObj } from "../formats/obj-read";
import { writeObj } from "../formats/obj-write";
import { wholeParts } from "../layout/assembly";
import { sourceBytes } from "../layout/asset";
import type { ExportOperation } from "./operation";
import { seamWarnings } from "./words";

/** OBJ with MTL; an asset that came from an OBJ goes back into it. */
export const exportObj: ExportOperation<Record<string, never>> = {
  id: "export-obj",
  title: "Export OBJ",
  about: "Writes OBJ with MTL. An asset that came from an OBJ file keeps everything but its texture points.",
  kind: "export",
  stage: "hand-off",
  acts: "parts",
  options: z.object({}),
  run(asset, scope) {
    const { obj, mtl, mtlName, inPlace } = writeObj(wholeParts(asset), asset.name, scope.set);
    const files = [{ name: `${asset.name}.obj`, type: "model/obj", bytes: obj }];
    const ownMtl = !inPlace;
    if (ownMtl && asset.materials.length) files.push({ name: mtlName, type: "model/mtl", bytes: mtl });
    const anew = asset.source.format === "obj" && !inPlace;
    const warnings = anew
      ? ["The parts no longer fit the numbering of the file they came from, so the OBJ is written anew."]
      : [];
    if (inPlace) warnings.push(...namesNotWritten(asset, readObj(sourceBytes(asset)!, { name: asset.source.name })));
    return { files, warnings: [...warnings, ...seamWarnings(seamsNotWritable(asset, scope.set))] };
  },
};
