import { z } from "zod";
import { measure } from "../../check/measure";
import { UserError } from "../../layout/user-error";
import type { SelectOperation } from "../operation";
import { shapesInScope } from "../scope";
import { elementWords } from "../words";
import { shellItems } from "./shell-items";

const options = z.object({
  tile: z
    .number()
    .int()
    .min(1001)
    .max(9999)
    .default(1001)
    .meta({ title: "Tile", description: "Number of the tile that the middle of a shell lies in" }),
});

/** Picks all shells that lie in a tile. */
export const pickTile: SelectOperation<z.infer<typeof options>> = {
  id: "pick-tile",
  title: "Pick: Tile",
  about: "Picks every shell whose middle lies in a tile.",
  kind: "select",
  stage: "place",
  heading: "Pick",
  acts: "parts",
  options,
  run(asset, scope, { tile }) {
    const shapes = new Set(shapesInScope(asset, scope).map((s) => s.id));
    const { perShell } = measure(asset, undefined, scope.set, shapes);
    const found = perShell.filter((s) => s.tile === tile);
    if (!found.length) throw new UserError(`No shell lies in tile ${tile}.`);
    const items = shellItems(found);
    return { selection: { kind: "shells", items }, words: `${elementWords(found.length, "shells")} in tile ${tile}.` };
  },
};
