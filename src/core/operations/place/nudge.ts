import { z } from "zod";
import { NUDGES, STEPS } from "../../place/nudges";
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

const WAYS: Readonly<Record<(typeof NUDGES)[number], readonly [number, number]>> = {
  left: [-1, 0],
  right: [1, 0],
  up: [0, 1],
  down: [0, -1],
};

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
    const { resolution } = asset.tiles;
    const sizes = {
      "a pixel": 1 / resolution,
      "a padding": asset.rules.padding / resolution,
      "a grid square": 1 / 8,
      "a tile": 1,
    };
    const [u, v] = WAYS[way];
    const size = sizes[by];
    const uvs = shells.map(({ uv }) => shifted(uv, [u * size, v * size]));
    return {
      asset: withShellsAt(asset, scope.set, shells, uvs),
      words: `Nudge ${count(shells.length, "shell")} ${way} by ${by}`,
      notes: [],
    };
  },
};
