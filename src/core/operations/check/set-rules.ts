import { z } from "zod";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";

const rule = (title: string, description: string, unit?: string) => ({
  title,
  description: `${description}; unchanged when not given`,
  from: "rules",
  ...(unit ? { unit } : {}),
});

const options = z.object({
  padding: z
    .number()
    .min(0)
    .max(256)
    .optional()
    .meta(rule("Padding", "Least distance between shells", "px")),
  spread: z.number().min(0).max(10).optional().meta(rule("Density spread", "Most that densities may differ")),
  stretch: z.number().min(1).max(100).optional().meta(rule("Stretch", "Most that a shell may be stretched")),
  stacks: z.boolean().optional().meta(rule("Allow stacks", "Copies laid exactly on one another are no overlap")),
});

/** Sets the limits that layouts of the asset are checked against. Nothing moves. */
export const setRules: EditOperation<z.infer<typeof options>> = {
  id: "set-rules",
  title: "Set the limits",
  about: "Sets the limits that layouts are checked against in Check, reports and exports. Nothing moves.",
  kind: "edit",
  stage: "check",
  heading: "Limits",
  acts: "asset",
  locked: "may",
  options,
  run(asset, _, given) {
    const { rules } = asset;
    const { padding = rules.padding, spread = rules.spread, stretch = rules.stretch, stacks = rules.stacks } = given;
    const next = { ...rules, padding, spread, stretch, stacks };
    if (JSON.stringify(next) === JSON.stringify(rules)) throw new UserError("The limits are these already.");
    const words = `Limits: ${padding} px, spread ${spread}, stretch ${stretch}${stacks ? "" : ", stacks count as overlap"}`;
    return { asset: { ...asset, rules: next }, words, notes: [] };
  },
};
