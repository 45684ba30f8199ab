import { z } from "zod";
import { plotsOf } from "../../layout/plots";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { count } from "../words";

const options = z.object({
  name: z.string().max(100).default("").meta({ title: "Plot", description: "Its name; all of them when not given" }),
});

/** Takes plots off; nothing that lies in them moves. */
export const removePlots: EditOperation<z.infer<typeof options>> = {
  id: "remove-plots",
  title: "Remove plots",
  about: "Takes plots off the sheet, one by its name or all of them. Shells stay where they lie.",
  kind: "edit",
  stage: "place",
  heading: "Plots",
  moves: false,
  acts: "asset",
  locked: "may",
  options,
  run(asset, scope, { name }) {
    const gone = plotsOf(asset, scope.set).filter((p) => !name || p.name === name);
    if (!gone.length)
      throw new UserError(name ? `There is no plot called ${name}.` : "No plot is drawn in this UV set.");
    const words = name ? `Remove plot ${name}` : `Remove ${count(gone.length, "plot")}`;
    return { asset: { ...asset, plots: asset.plots.filter((p) => !gone.includes(p)) }, words, notes: [] };
  },
};
