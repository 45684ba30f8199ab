import { z } from "zod";
import { flipsInSinglePrecision, seamsNotWritable } from "../check/handoff-warnings";
import { wholeParts } from "../layout/assembly";
import type { ExportOperation } from "./operation";
import { count, seamWarnings } from "./words";

/** GLB; an asset that came from glTF goes back into its file. */
export const exportGlb: ExportOperation<Record<string, never>> = {
  id: "export-glb",
  title: "Export GLB",
  about: "Writes GLB. An asset that came from glTF keeps everything but its texture coordinates.",
  kind: "export",
  stage: "hand-off",
  acts: "parts",
  options: z.object({}),
  async run(asset, scope, _, context) {
    const { writeGlb } = await import("../formats/gltf/write");
    const flips = flipsInSinglePrecision(asset, scope.set);
    const { bytes, warnings } = await writeGlb(wholeParts(asset), context.wasm);
    return {
      files: [{ name: `${asset.name}.glb`, type: "model/gltf-binary", bytes }],
      warnings: [
        ...warnings,
        ...seamWarnings(seamsNotWritable(asset, scope.set)),
        ...(flips ? [`${count(flips, "triangle")} lost area or flipped when rounded to single precision.`] : []),
      ],
    };
  },
};
