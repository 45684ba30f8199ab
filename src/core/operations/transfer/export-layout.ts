import { z } from "zod";
import { writeLayoutFile } from "../../formats/layout-file";
import { wholeParts } from "../../layout/assembly";
import type { ExportOperation } from "../operation";

/** Writes the layout alone, for an untouched copy of the mesh. */
export const exportLayout: ExportOperation<Record<string, never>> = {
  id: "export-layout",
  title: "Export the layout alone",
  about: "Writes all UV sets without the mesh, for an untouched copy of it.",
  kind: "export",
  stage: "hand-off",
  heading: "Files",
  acts: "parts",
  options: z.object({}),
  run: (asset) => ({
    files: [{ name: `${asset.name}.layout.json`, type: "application/json", bytes: writeLayoutFile(wholeParts(asset)) }],
    warnings: [],
  }),
};
