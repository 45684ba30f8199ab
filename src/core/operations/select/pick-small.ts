import { z } from "zod";
import { measure } from "../../check/measure";
import type { SelectOperation } from "../operation";
import { shapesInScope } from "../scope";
import { elementWords } from "../words";
import { shellItems } from "./shell-items";

const options = z.object({
  side: z.number().min(1).max(16384).default(16).meta({
    title: "Smaller than",
    description: "Shells whose area is less than that of a square of this side",
    unit: "px",
  }),
});

/** Picks shells that take little room on the sheet: scraps that are better joined to something. */
export const pickSmall: SelectOperation<z.infer<typeof options>> = {
  id: "pick-small",
  title: "Pick: Small shells",
  about: "Picks every shell that takes less of its tile than a square of some texels.",
  kind: "select",
  stage: "check",
  heading: "Pick",
  acts: "parts",
  options,
  run(asset, scope, { side }) {
    const shapes = new Set(shapesInScope(asset, scope).map((s) => s.id));
    const { perShell } = measure(asset, undefined, scope.set, shapes);
    // A shell of so much world area, at so many texels a unit, takes that many texels.
    const small = perShell.filter((s) => s.area * s.density ** 2 < side * side);
    return {
      selection: { kind: "shells", items: shellItems(small) },
      words: `${elementWords(small.length, "shells")} picked.`,
    };
  },
};
