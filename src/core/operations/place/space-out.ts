import { z } from "zod";
import { around } from "../../place/box";
import { asOnModel, inRows, spacedOut } from "../../place/rows";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { shellsAt, shifted, withShellsAt } from "./shells-at";
import { standOf } from "./stand-of";

const options = z.object({
  how: z.enum(["in rows", "as on the model", "across", "upright"]).default("in rows").meta({
    title: "How",
    description:
      "In rows, the tallest first, or the topmost on the model first and left to the left; or in one line as they lie",
  }),
  even: z
    .boolean()
    .default(true)
    .meta({
      title: "Gaps alike",
      description: "The first and the last stay; without it the gap below lies between all of them",
      only: { how: ["across", "upright"] },
    }),
  gap: z.number().min(0).max(1024).default(8).meta({
    title: "Gap",
    description: "Between boxes about shells, in the asset's resolution",
    unit: "px",
  }),
});

/** Lays shells in rows, or in one line with gaps alike. */
export const spaceOut: EditOperation<z.infer<typeof options>> = {
  id: "space-out",
  title: "Space out",
  about: "Lays shells in tidy rows, as wide as they are together, or in one line with gaps all alike.",
  kind: "edit",
  stage: "place",
  heading: "Arrange",
  acts: "shells",
  drawnBefore: true,
  options,
  run(asset, scope, { how, even, gap }) {
    const shells = shellsAt(asset, scope);
    const boxes = shells.map((s) => s.box);
    const all = around(boxes);
    const apart = gap / asset.tiles.resolution;
    const wide = Math.max(all.u1 - all.u0, all.v1 - all.v0);
    const moves =
      how === "in rows"
        ? inRows(boxes, all, wide, apart)
        : how === "as on the model"
          ? asOnModel(
              boxes,
              shells.map(({ shape, layout, wedges }) => standOf(asset, shape, layout, wedges)),
              all,
              wide,
              apart,
            )
          : spacedOut(boxes, how, even ? null : apart);
    const uvs = shells.map(({ uv }, k) => shifted(uv, moves[k]!));
    return {
      asset: withShellsAt(asset, scope.set, shells, uvs),
      words: `Space out ${count(shells.length, "shell")}`,
      notes: [],
    };
  },
};
