import { z } from "zod";
import type { EditOperation } from "../operation";
import { freeExport, freeName, nameOption, purposeOption, withNewSet } from "./set-tools";

const options = z.object({ name: nameOption, purpose: purposeOption });

/** Adds an empty UV set and makes it the target. The others stay as they are. */
export const addSet: EditOperation<z.infer<typeof options>> = {
  id: "add-set",
  title: "Add a UV set",
  about: "Adds an empty UV set and makes it the target. The others stay as they are.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  locked: "may",
  options,
  run(asset, _, { name, purpose }, { freshId }) {
    const id = freshId("s");
    const info = {
      id,
      name: freeName(asset, name || `UV ${asset.sets.length + 1}`),
      purpose,
      exportAs: purpose === "scratch" ? null : freeExport(asset),
    };
    return {
      asset: withNewSet(asset, asset.sets.length, info, () => undefined),
      words: `Add UV set ${info.name}`,
      notes: [],
      target: id,
    };
  },
};
