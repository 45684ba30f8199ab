import { z } from "zod";
import { LABELS } from "../../layout/asset";
import { count } from "../words";
import { partOperation } from "./part-operation";

const options = z.object({
  color: z.enum(LABELS).default("none").meta({ title: "Colour", description: "Colour of the parts in the list" }),
});

/** Gives the picked parts a colour to find them by. */
export const labelParts = partOperation({
  id: "label-parts",
  title: "Colour",
  about: "Gives the picked parts a colour to find them by.",
  options,
  change(part, { color }) {
    const { label: _, ...rest } = part;
    const label = LABELS.indexOf(color);
    return label ? { ...rest, label } : rest;
  },
  words: (picked, { color }) => `Colour ${count(picked.length, "part")}: ${color}`,
});
