import { z } from "zod";
import { measure } from "../../check/measure";
import { reportText, setReport } from "../../check/report";
import type { ExportOperation } from "../operation";

const options = z.object({
  as: z
    .enum(["text", "json"])
    .default("text")
    .meta({ title: "As", description: "Lines to read, or JSON for programs" }),
});

/** Findings and figures of every UV set that is written, for whoever takes the asset over. */
export const checkReport: ExportOperation<z.infer<typeof options>> = {
  id: "check-report",
  title: "Check report",
  about: "Writes the findings, those accepted, the limits and the figures of every UV set that is exported.",
  kind: "export",
  stage: "hand-off",
  heading: "To look at",
  acts: "asset",
  options,
  run(asset, _, { as }, context) {
    const written = asset.sets.filter((s) => s.exportAs !== null);
    const sets = (written.length ? written : asset.sets).map((set) => {
      context.check?.();
      return setReport(asset, set, context.figures?.(asset, set.id) ?? measure(asset, undefined, set.id));
    });
    const { name, rules } = asset;
    const text = as === "json" ? JSON.stringify({ name, rules, sets }, null, 1) : reportText(asset, sets);
    const bytes = new TextEncoder().encode(text);
    const [ending, type] = as === "json" ? ["json", "application/json"] : ["txt", "text/plain"];
    return { files: [{ name: `${name}_check.${ending}`, type: type!, bytes }], warnings: [] };
  },
};
