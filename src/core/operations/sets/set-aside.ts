import { z } from "zod";
import { freshId } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { freeName, reordered, withNewSet } from "./set-tools";

const options = z.object({});

/** Keeps the layout as it is in a scratch set and clears the target, so that a new one can be tried against it. */
export const setAside: EditOperation<Record<string, never>> = {
  id: "set-aside",
  title: "Set the layout aside",
  about: "Keeps the layout as it is in a scratch set and clears the target, so that a new one can be tried against it.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  big: true,
  options,
  run(asset, scope) {
    if (!asset.parts.some((p) => p.uvSets[scope.set])) throw new UserError("There is no layout to set aside.");
    const now = asset.sets[scope.set]!;
    const info = {
      id: freshId("s"),
      name: freeName(asset, `${now.name} as it was`),
      purpose: "scratch" as const,
      exportAs: null,
    };
    const kept = withNewSet(asset, asset.sets.length, info, (part) => part.uvSets[scope.set]);
    return {
      asset: reordered(kept, (part) => kept.sets.map((_, i) => (i === scope.set ? undefined : part.uvSets[i]))),
      words: `Set the layout of ${now.name} aside`,
      notes: [],
    };
  },
};
