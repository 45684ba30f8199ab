import { z } from "zod";
import { create } from "zustand";
import { FIGURES, type ShellFigure } from "../session/shell-rows";

/** Where the browser keeps which figures the table shows. */
const KEY = "tavlin-shell-figures";
const AS_IT_COMES: readonly ShellFigure[] = ["density", "stretch", "area"];

function kept(): readonly ShellFigure[] {
  try {
    return z.array(z.enum(FIGURES)).parse(JSON.parse(localStorage.getItem(KEY)!));
  } catch {
    return AS_IT_COMES;
  }
}

/** The figures that the table of shells shows, in this browser. */
export const useShellFigures = create(() => ({ shown: kept() }));

/** Shows a figure, or no longer; in the order in which the table has them. */
export function toggleFigure(figure: ShellFigure): void {
  useShellFigures.setState(({ shown }) => {
    const next = FIGURES.filter((f) => (f === figure) !== shown.includes(f));
    try {
      localStorage.setItem(KEY, JSON.stringify(next));
    } catch {
      // A browser that keeps nothing shows them until the page is left.
    }
    return { shown: next };
  });
}
