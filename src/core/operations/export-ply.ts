import { z } from "zod";
import { seamsNotWritable } from "../check/handoff-warnings";
import { wholeParts } from "../layout/assembly";
import type { ExportOperation } from "./operation";
import { findingWarnings, seamWarnings } from "./words";

/** PLY with the coordinates of the target set at the corners of its faces. */
export const exportPly: ExportOperation<Record<string, never>> = {
  id: "export-ply",
  title: "Export PLY",
  about: "Writes binary PLY: vertices in the order they came, coordinates with the corners of the faces.",
  kind: "export",
  stage: "hand-off",
  heading: "Files",
  ending: ".ply",
  acts: "parts",
  options: z.object({}),
  async run(asset, scope, _, context) {
    const { writePly } = await import("../formats/ply-write");
    return {
      files: [{ name: `${asset.name}.ply`, type: "model/ply", bytes: writePly(wholeParts(asset), scope.set) }],
      warnings: [...seamWarnings(seamsNotWritable(asset, scope.set)), ...findingWarnings(asset, [scope.set], context)],
    };
  },
};
