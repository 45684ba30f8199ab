/** The warning for seams that a file of coordinates cannot hold. */
export const seamWarnings = (edges: number): string[] =>
  edges
    ? [
        `${count(edges, "seam edge")} cannot be told from joined edges in this format, as both sides lie on one another; Tavlin keeps the seam.`,
      ]
    : [];

/** "1 shell", "3 shells". */
export const count = (n: number, noun: string): string => `${n.toLocaleString("en")} ${noun}${n === 1 ? "" : "s"}`;
