import { z } from "zod";
import { STAGES } from "@/core/operations/operation";
import { type BenchState, VIEWS } from "./store";

/** Where the browser keeps it. */
const KEY = "tavlin-looks";
const Looks = z.object({ stage: z.enum(STAGES), view: z.enum(VIEWS) });

/** The stage and the view in which an asset was left last: the next is begun in them. */
export function keptLooks(): Partial<Pick<BenchState, "stage" | "view">> {
  try {
    return Looks.parse(JSON.parse(localStorage.getItem(KEY)!));
  } catch {
    return {};
  }
}

export function keepLooks({ stage, view }: BenchState): void {
  try {
    localStorage.setItem(KEY, JSON.stringify({ stage, view }));
  } catch {
    // A browser that keeps nothing begins as the application comes.
  }
}
