import { z } from "zod";
import { MOST_PLOTS, plotsOf } from "../../layout/plots";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";

/** The shorter side of a plot is at least this, tiles. */
const LEAST = 0.001;
const corner = (title: string, initial: number, description: string) =>
  z.number().min(-1000).max(1000).default(initial).meta({ title, description, unit: "tiles" });

const options = z.object({
  name: z.string().max(100).default("").meta({ title: "Name", description: "A number is given where there is none" }),
  u0: corner("Left", 0, "Left border of the plot"),
  v0: corner("Bottom", 0, "Lower border of the plot"),
  u1: corner("Right", 0.5, "Right border of the plot"),
  v1: corner("Top", 0.5, "Upper border of the plot"),
});

/** Keeps a rectangle of the sheet for a packing. */
export const addPlot: EditOperation<z.infer<typeof options>> = {
  id: "add-plot",
  title: "Add a plot",
  about: "Keeps a rectangle of the sheet for a packing; the Plot tool draws one with a drag in Sheet.",
  kind: "edit",
  stage: "place",
  heading: "Plots",
  moves: false,
  acts: "asset",
  locked: "may",
  options,
  run(asset, scope, { name, ...box }) {
    const [u0, u1] = [Math.min(box.u0, box.u1), Math.max(box.u0, box.u1)];
    const [v0, v1] = [Math.min(box.v0, box.v1), Math.max(box.v0, box.v1)];
    if (u1 - u0 < LEAST || v1 - v0 < LEAST) throw new UserError("A plot needs some width and height.");
    const own = plotsOf(asset, scope.set);
    if (asset.plots.length >= MOST_PLOTS) throw new UserError(`There can be ${MOST_PLOTS} plots at the most.`);
    let called = name.trim();
    for (let n = own.length + 1; !called; n++) if (!own.some((p) => p.name === `Plot ${n}`)) called = `Plot ${n}`;
    if (own.some((p) => p.name === called)) throw new UserError(`There is a plot called ${called} already.`);
    const plots = [...asset.plots, { name: called, set: scope.set, u0, v0, u1, v1 }];
    return { asset: { ...asset, plots }, words: `Add plot ${called}`, notes: [] };
  },
};
