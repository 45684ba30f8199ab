import { z } from "zod";
import { measure } from "../../check/measure";
import type { EditOperation } from "../operation";
import { partsInScope } from "../scope";
import { count } from "../words";
import { type Smoothing, smoothed, smoothingOptions, stretchWords } from "./smoothing";

/** Smooths forms by subdivision, their layouts with them. */
export const subdivide: EditOperation<Smoothing> = {
  id: "subdivide",
  title: "Subdivide",
  about:
    "Smooths the form by subdivision, and its layouts with it as programs that render it do; undo goes back to the plain form.",
  kind: "edit",
  stage: "check",
  heading: "Smoothed form",
  acts: "parts",
  big: true,
  options: z.object(smoothingOptions),
  run(asset, scope, options, context) {
    const { asset: after } = smoothed(asset, scope, options);
    context.progress(0.3);
    const figures = stretchWords(measure(asset, undefined, scope.set), measure(after, undefined, scope.set));
    return {
      asset: after,
      words: `Subdivide ${count(partsInScope(asset, scope).length, "part")}: ${figures}`,
      notes: [],
    };
  },
};
