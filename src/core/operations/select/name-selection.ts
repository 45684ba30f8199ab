import { z } from "zod";
import { placedShape } from "../../layout/asset";
import { facesPrint, MOST_NAMED, type NamedSelection, runsOf } from "../../layout/named-selection";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { elementWords } from "../words";

const options = z.object({
  name: z
    .string()
    .max(100)
    .default("")
    .meta({ title: "Name", description: "Name under which it is kept; one of that name is replaced" }),
});

/** Keeps what is picked under a name. */
export const nameSelection: EditOperation<z.infer<typeof options>> = {
  id: "name-selection",
  title: "Name what is picked",
  about: "Keeps what is picked under a name, so that it can be picked again later.",
  kind: "edit",
  stage: "seams",
  heading: "Named selections",
  acts: "asset",
  picks: true,
  locked: "may",
  options,
  run(asset, { selection }, options) {
    if (!selection?.items.size) throw new UserError("Pick something first; then it can be named.");
    const name = options.name.trim();
    if (!name) throw new UserError("Give the selection a name.");
    const shapes = [...selection.items].map(([shape, items]) => ({
      shape,
      print: facesPrint(placedShape(asset, shape).mesh),
      runs: runsOf(items.slice().sort()),
    }));
    const own: NamedSelection = { name, kind: selection.kind, shapes };
    const others = asset.selections.filter((s) => s.name !== name);
    if (others.length >= MOST_NAMED) throw new UserError(`At most ${MOST_NAMED} selections can be named.`);
    const count = [...selection.items.values()].reduce((n, items) => n + items.length, 0);
    return {
      asset: { ...asset, selections: [...others, own].sort((a, b) => (a.name < b.name ? -1 : 1)) },
      words: `Name ${elementWords(count, selection.kind)}: ${name}`,
      notes: [],
    };
  },
};
