import { z } from "zod";
import { saidOf } from "../../layout/shell-marks";
import { UserError } from "../../layout/user-error";
import { AS_THEY_ARE, MIRRORED_TOO, mayBeTwins, twinMatch } from "../../place/twin-shells";
import type { EditOperation, Note } from "../operation";
import { count } from "../words";
import { shellsAt, withShellsAt } from "./shells-at";
import { asTwins, laidOn } from "./twins";

const options = z.object({
  mirrored: z.boolean().default(true).meta({
    title: "Mirrored ones too",
    description: "Twins that mirror in space lie on each other as well; not those that bear lettering",
  }),
  within: z.number().min(0.01).max(20).default(0.5).meta({
    title: "Alike within",
    description: "How far lengths of edges may differ",
    unit: "%",
  }),
});

/** Lays twins point on point onto the first of them. */
export const stackTwins: EditOperation<z.infer<typeof options>> = {
  id: "stack-twins",
  title: "Stack twins",
  about:
    "Lays shells that are the same shape, mirrored or not and however they are numbered, point on point onto the first of them: one painted detail serves all.",
  kind: "edit",
  stage: "place",
  heading: "Stacks",
  acts: "shells",
  drawnBefore: true,
  options,
  run(asset, scope, { mirrored, within }) {
    const shells = shellsAt(asset, scope);
    const twins = asTwins(shells);
    const bears = shells.map(
      ({ shape, face }) => saidOf(asset, scope.set, { shape: shape.id, face }).lettering === true,
    );
    const uvs: Array<Float64Array | null> = shells.map(() => null);
    const order = shells.map((_, i) => i).sort((a, b) => twins[a]!.size - twins[b]!.size || a - b);
    const done = new Uint8Array(shells.length);
    const notes: Note[] = [];
    let [stacks, laid] = [0, 0];
    for (const [at, first] of order.entries()) {
      if (done[first]) continue;
      let members = 0;
      for (let next = at + 1; next < order.length; next++) {
        const k = order[next]!;
        if (twins[k]!.size > twins[first]!.size * (1 + within / 100)) break;
        if (done[k] || !mayBeTwins(twins[k]!, twins[first]!, within / 100)) continue;
        const match = twinMatch(twins[k]!, twins[first]!, within / 100, mirrored ? MIRRORED_TOO : AS_THEY_ARE);
        if (!match) continue;
        if (match.mirrored && (bears[k] || bears[first])) {
          const { shape, face } = shells[k]!;
          notes.push({
            words: `A shell of ${shape.name} is left out: it would lie mirrored, and lettering could not be read.`,
            shells: [{ shape: shape.id, face }],
          });
          continue;
        }
        done[k] = 1;
        members++;
        uvs[k] = laidOn(shells[first]!.uv, match.images);
      }
      if (members) stacks++;
      laid += members;
    }
    if (!laid) throw new UserError(notes[0]?.words ?? "No two of these shells are twins.");
    return {
      asset: withShellsAt(asset, scope.set, shells, uvs),
      words: `Stack ${count(laid + stacks, "shell")} in ${count(stacks, "stack")}`,
      notes,
    };
  },
};
