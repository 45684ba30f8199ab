import { z } from "zod";
import { UPS } from "../place/ups";
import { count } from "../words";
import { partOperation } from "./part-operation";

const options = z.object({
  up: z
    .enum(UPS)
    .default("as the asset")
    .meta({ title: "Up", description: "Which way of space is up on these parts, for all that stands shells upright" }),
});

/** Tells which way is up on the picked parts. */
export const partUp = {
  ...partOperation({
    id: "part-up",
    title: "Set which way is up",
    about:
      "Tells which way is up on the picked parts where that is not the asset's: Stand upright, the arrow, and what is found not upright go by it.",
    options,
    change(part, { up }) {
      const { up: _, ...rest } = part;
      return up === "as the asset" ? rest : { ...rest, up };
    },
    words: (picked, { up }) => `Up of ${count(picked.length, "part")}: ${up}`,
  }),
  stage: "level" as const,
  heading: "Upright",
};
