import { z } from "zod";
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
  async run(asset) {
    const { writeLayoutFile } = await import("../../formats/layout-file");
    const bytes = writeLayoutFile(wholeParts(asset));
    return { files: [{ name: `${asset.name}.layout.json`, type: "application/json", bytes }], warnings: [] };
  },
};
