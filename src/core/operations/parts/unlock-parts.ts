import { z } from "zod";
import { withParts } from "../../layout/asset";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { pickedParts } from "./picked-parts";

const options = z.object({});

/** Lets the picked parts be changed again. */
export const unlockParts: EditOperation<Record<string, never>> = {
  id: "unlock-parts",
  title: "Unlock",
  about: "Lets the picked parts be changed again.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  locked: "may",
  options,
  run(asset, scope) {
    const picked = new Set(pickedParts(asset, scope).map((p) => p.id));
    return {
      asset: withParts(
        asset,
        asset.parts.map((p) => {
          if (!picked.has(p.id)) return p;
          const { locked: _, ...rest } = p;
          return rest;
        }),
      ),
      words: `Unlock ${count(picked.size, "part")}`,
      notes: [],
    };
  },
};
