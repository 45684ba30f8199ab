import { z } from "zod";
import { around, middleOfBox } from "../../place/box";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { ABOUT } from "./about";
import { shellsAt, withShellsAt } from "./shells-at";

const options = z.object({
  along: z.enum(["u", "v"]).default("u").meta({
    title: "Along",
    description: "u swaps left and right, v swaps top and bottom",
  }),
  about: z.enum(ABOUT).default("each its own middle").meta({
    title: "About",
    description: "Each about its own middle, or all about the middle of their box",
  }),
});

/** Mirrors shells on the sheet. */
export const mirrorShells: EditOperation<z.infer<typeof options>> = {
  id: "mirror-shells",
  title: "Mirror shells",
  about:
    "Mirrors shells on the sheet, each about its own middle or all together: lettering that reads backwards reads again.",
  kind: "edit",
  stage: "place",
  heading: "Arrange",
  acts: "shells",
  drawnBefore: true,
  options,
  run(asset, scope, { along, about }) {
    const shells = shellsAt(asset, scope);
    const common = middleOfBox(around(shells.map((s) => s.box)));
    const d = along === "u" ? 0 : 1;
    const uvs = shells.map(({ uv, box }) => {
      const middle = (about === "the common middle" ? common : middleOfBox(box))[d];
      return uv.map((x, i) => (i % 2 === d ? 2 * middle - x : x));
    });
    return {
      asset: withShellsAt(asset, scope.set, shells, uvs),
      words: `Mirror ${count(shells.length, "shell")}`,
      notes: [],
    };
  },
};
