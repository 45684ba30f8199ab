import { z } from "zod";
import { type ExportOperation, resolutionOption } from "./operation";

const options = z.object({
  resolution: resolutionOption,
  wires: z.boolean().default(false).meta({ title: "Inner edges", description: "Draw the edges inside the shells too" }),
  names: z.boolean().default(true).meta({ title: "Names", description: "Write the part's name on its largest shell" }),
});

/** The pattern sheet: the layout as a vector drawing to paint over. */
export const sheet: ExportOperation<z.infer<typeof options>> = {
  id: "sheet",
  title: "Pattern sheet",
  about: "Draws the layout as an SVG picture to paint over: outlines, tints by part, tile borders and numbers.",
  kind: "export",
  stage: "hand-off",
  heading: "To look at",
  command: "sheet",
  ending: ".svg",
  acts: "parts",
  options,
  async run(asset, scope, { resolution = asset.tiles.resolution, wires, names }) {
    const { writeSheet } = await import("../formats/sheet-svg");
    const text = writeSheet(asset, { set: scope.set, resolution, wires, names });
    const file = { name: `${asset.name}.svg`, type: "image/svg+xml", bytes: new TextEncoder().encode(text) };
    return { files: [file], warnings: [] };
  },
};
