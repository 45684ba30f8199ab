import { z } from "zod";
import { NUDGES, nudged, STEPS } from "../../place/nudges";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { shellsAt, shifted, withShellsAt } from "./shells-at";

const options = z.object({
  way: z.enum(NUDGES).default("right").meta({ title: "Way", description: "Which way they are moved" }),
  by: z.enum(STEPS).default("a pixel").meta({
    title: "By",
    description: "A pixel of the asset's resolution, the padding it is checked against, an eighth of a tile, or a tile",
  }),
});

/** Moves shells by one step. */
export const nudge: EditOperation<z.infer<typeof options>> = {
  id: "nudge",
  title: "Nudge",
  about:
    "Moves shells by one step: a pixel, the padding, a grid square, or a whole tile, after which a repeating texture lies as before.",
  kind: "edit",
  stage: "place",
  heading: "Arrange",
  acts: "shells",
  picks: true,
  options,
  run(asset, scope, { way, by }) {
    const shells = shellsAt(asset, scope);
    const shift = nudged(asset, way, by);
    const uvs = shells.map(({ uv }) => shifted(uv, shift));
    return {
      asset: withShellsAt(asset, scope.set, shells, uvs),
      words: `Nudge ${count(shells.length, "shell")} ${way} by ${by}`,
      notes: [],
    };
  },
};
