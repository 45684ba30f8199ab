import { z } from "zod";
import { shapesOf } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { targetSet } from "../scope";
import { freeName, withLayoutsIn, withNewSet } from "./set-tools";

const options = z.object({});

/** Keeps the layout as it is in a scratch set and clears the target, so that a new one can be tried against it. */
export const setAside: EditOperation<Record<string, never>> = {
  id: "set-aside",
  title: "Set the layout aside",
  about: "Keeps the layout as it is in a scratch set and clears the target, so that a new one can be tried against it.",
  kind: "edit",
  movesPins: true,
  stage: "brief",
  acts: "asset",
  big: true,
  options,
  run(asset, scope, _, { freshId }) {
    const now = targetSet(asset, scope);
    if (!shapesOf(asset).some((s) => s.layouts.has(now.id))) throw new UserError("There is no layout to set aside.");
    const info = {
      id: freshId("s"),
      name: freeName(asset, `${now.name} as it was`),
      purpose: "scratch" as const,
      exportAs: null,
    };
    const kept = withNewSet(asset, asset.sets.length, info, (shape) => shape.layouts.get(now.id));
    return {
      asset: withLayoutsIn(kept, now.id, () => undefined),
      words: `Set the layout of ${now.name} aside`,
      notes: [],
    };
  },
};
