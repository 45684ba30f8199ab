import { z } from "zod";
import { withSaid } from "../../layout/shell-marks";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { shellsAt } from "./shells-at";

const options = z.object({
  bears: z.boolean().default(true).meta({ title: "Bears lettering", description: "Off takes the mark away again" }),
});

/** Says of shells that they bear lettering. */
export const lettering: EditOperation<z.infer<typeof options>> = {
  id: "lettering",
  title: "Bears lettering",
  about:
    "Marks shells that bear lettering: they are never stacked mirrored, and the page of Level tells of those that lie mirrored.",
  kind: "edit",
  stage: "place",
  moves: false,
  heading: "Stacks",
  acts: "shells",
  picks: true,
  options,
  run(asset, scope, { bears }) {
    const shells = shellsAt(asset, scope);
    const said = shells.map(({ shape, face }) => ({
      shell: { shape: shape.id, face },
      say: { lettering: bears ? (true as const) : undefined },
    }));
    return {
      asset: { ...asset, shellMarks: withSaid(asset, scope.set, said) },
      words: `${count(shells.length, "shell")} ${bears ? "marked as bearing lettering" : "no longer marked as bearing lettering"}`,
      notes: [],
    };
  },
};
