import { z } from "zod";
import { around, type SheetBox } from "../../place/box";
import { aligned, EDGES } from "../../place/rows";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { shellsAt, shifted, withShellsAt } from "./shells-at";

const options = z.object({
  by: z
    .enum(EDGES)
    .default("left")
    .meta({ title: "By", description: "The edge or the middle that they come to share" }),
  to: z.enum(["each other", "the tile"]).default("each other").meta({
    title: "To",
    description: "The box about them all, or the tile that most of that lies in",
  }),
});

const tileAbout = ({ u0, v0, u1, v1 }: SheetBox): SheetBox => {
  const [u, v] = [Math.floor((u0 + u1) / 2), Math.floor((v0 + v1) / 2)];
  return { u0: u, v0: v, u1: u + 1, v1: v + 1 };
};

/** Puts shells level with each other, or with the tile. */
export const alignShells: EditOperation<z.infer<typeof options>> = {
  id: "align-shells",
  title: "Align shells",
  about: "Moves shells so that one edge or the middle of their boxes lies on a line, or on the border of the tile.",
  kind: "edit",
  stage: "place",
  heading: "Arrange",
  acts: "shells",
  drawnBefore: true,
  options,
  run(asset, scope, { by, to }) {
    const shells = shellsAt(asset, scope);
    const boxes = shells.map((s) => s.box);
    const all = around(boxes);
    const moves = aligned(boxes, by, to === "the tile" ? tileAbout(all) : all);
    const uvs = shells.map(({ uv }, k) => shifted(uv, moves[k]!));
    return {
      asset: withShellsAt(asset, scope.set, shells, uvs),
      words: `Align ${count(shells.length, "shell")}`,
      notes: [],
    };
  },
};
