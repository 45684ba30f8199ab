import { z } from "zod";
import { flipsInSinglePrecision, seamsNotWritable } from "../check/handoff-warnings";
import type { ExportOperation } from "./operation";
import { count, seamWarnings } from "./words";

/** GLB; an asset that came from glTF goes back into it. */
export const exportGlb: ExportOperation<Record<string, never>> = {
  id: "export-glb",
  title: "Export GLB",
  about: "Writes one GLB file. An asset that came from glTF keeps everything but its texture coordinates.",
  kind: "export",
  stage: "hand-off",
  acts: "parts",
  options: z.object({}),
  async run(asset, scope) {
    const { writeGlb } = await import("../formats/glb");
    const flips = flipsInSinglePrecision(asset, scope.set);
    return {
      files: [{ name: `${asset.name}.glb`, type: "model/gltf-binary", bytes: await writeGlb(asset) }],
      warnings: [
        ...seamWarnings(seamsNotWritable(asset, scope.set)),
        ...(flips ? [`${count(flips, "triangle")} lost area or flipped when rounded to single precision.`] : []),
      ],
    };
  },
};
