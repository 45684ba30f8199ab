import { z } from "zod";
import { STAGES } from "@/core/operations/operation";
import { type BenchState, VIEWS } from "./store";
import { SWATCH_IDS } from "./swatches";

/** Where the browser keeps it. */
const KEY = "tavlin-looks";
const Looks = z.object({
  stage: z.enum(STAGES),
  view: z.enum(VIEWS),
  swatch: z.enum(SWATCH_IDS).default("letters"),
  swatchRepeats: z.number().int().min(1).max(8).default(1),
  swatchWeight: z.number().int().min(1).max(3).default(1),
});

/** The stage, the view and the swatch with which an asset was left last: the next is begun with them. */
export function keptLooks(): Partial<z.infer<typeof Looks>> {
  try {
    return Looks.parse(JSON.parse(localStorage.getItem(KEY)!));
  } catch {
    return {};
  }
}

export function keepLooks({ stage, view, swatch, swatchRepeats, swatchWeight }: BenchState): void {
  try {
    localStorage.setItem(KEY, JSON.stringify({ stage, view, swatch, swatchRepeats, swatchWeight }));
  } catch {
    // A browser that keeps nothing begins as the application comes.
  }
}
