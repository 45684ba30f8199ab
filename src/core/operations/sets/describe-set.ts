import { z } from "zod";
import { PURPOSES } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { nameOption, withInfo } from "./set-tools";

const options = z.object({
  name: nameOption,
  purpose: z
    .enum(["as it is", ...PURPOSES])
    .default("as it is")
    .meta({ title: "Purpose", description: "What the set is for" }),
  written: z
    .enum(["as it is", "0", "1", "2", "3", "4", "5", "6", "7", "not at all"])
    .default("as it is")
    .meta({ title: "Written as", description: "The texture coordinate set it is exported as" }),
});

/** Gives the target UV set a name and a purpose, and says which coordinate set it is written as. */
export const describeSet: EditOperation<z.infer<typeof options>> = {
  id: "describe-set",
  title: "Name the target set",
  about: "Gives the target UV set a name and a purpose, and says which coordinate set it is written as.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  locked: "may",
  options,
  run(asset, scope, { name, purpose, written }) {
    const now = asset.sets[scope.set]!;
    const exportAs = written === "as it is" ? now.exportAs : written === "not at all" ? null : Number(written);
    if (name && name !== now.name && asset.sets.some((s) => s.name === name))
      throw new UserError(`There is a UV set called ${name} already.`);
    const other = asset.sets.findIndex((s, i) => i !== scope.set && exportAs !== null && s.exportAs === exportAs);
    const moved = other >= 0 ? withInfo(asset, other, { exportAs: now.exportAs }) : asset;
    if (asset.sets.every((s, i) => (i === scope.set ? exportAs : s.exportAs) === null))
      throw new UserError("One UV set at least must be written.");
    const next = withInfo(moved, scope.set, {
      name: name || now.name,
      purpose: purpose === "as it is" ? now.purpose : purpose,
      exportAs,
    });
    return { asset: next, words: `UV set ${next.sets[scope.set]!.name}: ${next.sets[scope.set]!.purpose}`, notes: [] };
  },
};
