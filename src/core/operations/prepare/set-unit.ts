import { z } from "zod";
import { UNITS } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";

const options = z.object({
  unit: z
    .enum(UNITS)
    .default("m")
    .meta({ title: "Unit", description: "What one unit of length of the file is", from: "unit" }),
});

/** Says what one unit of the file is. No number changes, only what it stands for. */
export const setUnit: EditOperation<z.infer<typeof options>> = {
  id: "set-unit",
  title: "Set the unit",
  about: "Sets what one unit of length of the file is; densities and lengths are measured in it.",
  kind: "edit",
  stage: "brief",
  heading: "Report",
  acts: "asset",
  locked: "may",
  options,
  run(asset, _, { unit }) {
    if (unit === asset.unit) throw new UserError(`The unit is ${unit} already.`);
    return { asset: { ...asset, unit }, words: `Unit: ${unit}`, notes: [] };
  },
};
