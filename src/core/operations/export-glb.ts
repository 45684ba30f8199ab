import { z } from "zod";
import { flipsInSinglePrecision, namesNotWritten, seamsNotWritable } from "../check/handoff-warnings";
import { wholeParts } from "../layout/assembly";
import { type Asset, sourceBytes } from "../layout/asset";
import type { Context, ExportOperation } from "./operation";
import { count, findingWarnings, seamWarnings } from "./words";

/** GLB; an asset that came from glTF goes back into its file. */
export const exportGlb: ExportOperation<Record<string, never>> = {
  id: "export-glb",
  title: "Export GLB",
  about: "Writes GLB. An asset that came from glTF keeps everything but its texture coordinates.",
  kind: "export",
  stage: "hand-off",
  heading: "Files",
  ending: ".glb",
  acts: "parts",
  options: z.object({}),
  async run(asset, scope, _, context) {
    const { writeGlb } = await import("../formats/gltf/write");
    const written = asset.sets.filter((s) => s.exportAs !== null).map((s) => s.id);
    const flips = flipsInSinglePrecision(asset, scope.set);
    const { bytes, warnings } = await writeGlb(wholeParts(asset), context.wasm);
    return {
      files: [{ name: `${asset.name}.glb`, type: "model/gltf-binary", bytes }],
      warnings: [
        ...warnings,
        ...(await keptNames(asset, context)),
        ...seamWarnings(seamsNotWritable(asset, scope.set)),
        ...(flips ? [`${count(flips, "triangle")} lost area or flipped when rounded to single precision.`] : []),
        ...findingWarnings(asset, written, context),
      ],
    };
  },
};

/** Names and groups that the file it goes back into keeps as it had them. */
async function keptNames(asset: Asset, { wasm }: Context): Promise<string[]> {
  const { format, name } = asset.source;
  const bytes = sourceBytes(asset);
  if (!bytes || (format !== "glb" && format !== "gltf")) return [];
  const { readGltf } = await import("../formats/gltf/read");
  return namesNotWritten(asset, await readGltf(bytes, { name, ...(wasm ? { wasm } : {}) }));
}
