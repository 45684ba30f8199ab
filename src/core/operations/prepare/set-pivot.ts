import { z } from "zod";
import { mapParts, type Part, shapeOf } from "../../layout/asset";
import type { EditOperation } from "../operation";
import { partsInScope } from "../scope";
import { count } from "../words";

const options = z.object({
  at: z.enum(["middle", "foot", "origin"]).default("middle").meta({
    title: "Pivot at",
    description: "The middle of the part's box, the middle of its underside, or its own origin",
  }),
});

/** Sets the point that parts turn about. */
export const setPivot: EditOperation<z.infer<typeof options>> = {
  id: "set-pivot",
  title: "Set the pivot",
  about: "Sets the point that each part turns about. Its vertices stay where they are.",
  kind: "edit",
  stage: "brief",
  heading: "Parts",
  acts: "parts",
  locked: "may",
  options,
  run(asset, scope, { at }) {
    const ids = new Set(partsInScope(asset, scope).map((p) => p.id));
    const up = asset.up === "y" ? 1 : 2;
    const set = (part: Part): Part => {
      const { pivot: _, ...rest } = part;
      if (at === "origin") return rest;
      const { positions } = shapeOf(asset, part).mesh;
      const point = [0, 1, 2].map((d) => {
        let [low, high] = [Infinity, -Infinity];
        for (let i = d; i < positions.length; i += 3) {
          low = Math.min(low, positions[i]!);
          high = Math.max(high, positions[i]!);
        }
        return at === "foot" && d === up ? low : (low + high) / 2;
      });
      return { ...rest, pivot: point as [number, number, number] };
    };
    return {
      asset: mapParts(asset, (p) => (ids.has(p.id) ? set(p) : p)),
      words: `Pivot of ${count(ids.size, "part")} at the ${at}`,
      notes: [],
    };
  },
};
