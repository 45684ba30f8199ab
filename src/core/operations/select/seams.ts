import { z } from "zod";
import { getBit } from "../../layout/bits";
import { pickEdges } from "./pick-edges";

/** Picks all seams. */
export const seams = pickEdges({
  id: "pick-seams",
  title: "Pick: Seams",
  about: "Picks every edge that is cut.",
  options: z.object({}),
  edges: (_, { cut }) => {
    const out: number[] = [];
    for (let e = 0; e < 8 * cut.length; e++) if (getBit(cut, e)) out.push(e);
    return Uint32Array.from(out);
  },
});
