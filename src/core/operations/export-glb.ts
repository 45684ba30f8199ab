import { z } from "zod";
import type { ExportOperation } from "./operation";

/** GLB; an asset that came from glTF goes back into it. */
export const exportGlb: ExportOperation<Record<string, never>> = {
  id: "export-glb",
  title: "Export GLB",
  about: "Writes one GLB file. An asset that came from glTF keeps everything but its texture coordinates.",
  kind: "export",
  stage: "hand-off",
  acts: "parts",
  options: z.object({}),
  async run(asset) {
    const { writeGlb } = await import("../formats/glb");
    return [{ name: `${asset.name}.glb`, type: "model/gltf-binary", bytes: await writeGlb(asset) }];
  },
};
