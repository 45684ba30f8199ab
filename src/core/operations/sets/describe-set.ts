import { z } from "zod";
import { PURPOSES } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { targetSet } from "../scope";
import { nameOption, withSet } from "./set-tools";

const options = z.object({
  name: nameOption,
  purpose: z
    .enum(["unchanged", ...PURPOSES])
    .default("unchanged")
    .meta({ title: "Purpose", description: "What the set is for" }),
  written: z
    .enum(["unchanged", "0", "1", "2", "3", "4", "5", "6", "7", "not at all"])
    .default("unchanged")
    .meta({ title: "Written as", description: "The texture coordinate set it is exported as" }),
});

/** Sets the name and purpose of the target UV set, and which coordinate set it is written as. */
export const describeSet: EditOperation<z.infer<typeof options>> = {
  id: "describe-set",
  title: "UV set properties",
  about: "Sets the name and purpose of the target UV set, and which coordinate set it is written as.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  locked: "may",
  options,
  run(asset, scope, { name, purpose, written }) {
    const now = targetSet(asset, scope);
    const exportAs = written === "unchanged" ? now.exportAs : written === "not at all" ? null : Number(written);
    if (name && name !== now.name && asset.sets.some((s) => s.name === name))
      throw new UserError(`There is a UV set called ${name} already.`);
    if (exportAs === null && asset.sets.every((s) => s === now || s.exportAs === null))
      throw new UserError("One UV set at least must be written.");
    // A number is written by one set: the one that had it takes the number this one had.
    const other = asset.sets.find((s) => s !== now && exportAs !== null && s.exportAs === exportAs);
    const moved = other ? withSet(asset, other.id, { exportAs: now.exportAs }) : asset;
    const next = {
      name: name || now.name,
      purpose: purpose === "unchanged" ? now.purpose : purpose,
      exportAs,
    };
    return { asset: withSet(moved, now.id, next), words: `UV set ${next.name}: ${next.purpose}`, notes: [] };
  },
};
