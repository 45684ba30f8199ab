import { z } from "zod";
import { UserError } from "../../layout/user-error";
import { count } from "../words";
import { partOperation } from "./part-operation";

const options = z.object({
  name: z
    .string()
    .trim()
    .max(1000)
    .default("")
    .meta({ title: "Name", description: "Name of the group; a slash puts one group into another" }),
});

const pathOf = (name: string): string[] =>
  name
    .split("/")
    .map((n) => n.trim())
    .filter(Boolean);

/** Puts the picked parts into a group. */
export const groupParts = partOperation({
  id: "group-parts",
  title: "Group",
  about: "Puts the picked parts into a group of the parts list.",
  options,
  change: (part, { name }) => ({ ...part, path: pathOf(name) }),
  words(picked, { name }) {
    const path = pathOf(name);
    if (!path.length) throw new UserError("Say what the group is to be called.");
    return `Group ${count(picked.length, "part")} as ${path.join(" / ")}`;
  },
});
