import { z } from "zod";
import { type Asset, placedShape } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { facesOfShell, type Layout, type ShellRef, shellNamed, structureOf } from "../../layout/layout";
import { saidOf } from "../../layout/shell-marks";
import { wedgesOfShell } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import { boxOf } from "../../place/box";
import { AS_THEY_ARE, MIRRORED_TOO, twinMatch } from "../../place/twin-shells";
import type { EditOperation, Note } from "../operation";
import { layoutOf } from "../scope";
import { count } from "../words";
import { type ShellAt, shellsAt, withShellsAt } from "./shells-at";
import { asTwins, laidOn } from "./twins";

const options = z.object({
  from: z.string().max(40_000).default("").meta({
    title: "Copied",
    description: "The shells whose layout was copied, by shape and face; Copy layout writes it here",
    empty: "nothing copied",
  }),
  mirrored: z.boolean().default(true).meta({
    title: "Mirrored ones too",
    description: "Shells that mirror in space take the layout as well; not those that bear lettering",
  }),
  within: z.number().min(0.01).max(50).default(5).meta({
    title: "Alike within",
    description: "How far lengths of edges may differ",
    unit: "%",
  }),
});

/** Lays shells exactly as others that have the same faces. */
export const layLike: EditOperation<z.infer<typeof options>> = {
  id: "lay-like",
  title: "Paste layout",
  about:
    "Gives the picked shells the layout of copied ones with the same faces, point on point: the same shape, size and place, whatever their numbers.",
  kind: "edit",
  stage: "place",
  heading: "Stacks",
  acts: "shells",
  picks: true,
  options,
  run(asset, scope, { from, mirrored, within }) {
    const sources = copied(asset, scope.set, from);
    const shells = shellsAt(asset, scope).filter(
      ({ shape, face }) => !sources.some((s) => s.shape.id === shape.id && s.face === face),
    );
    if (!shells.length) throw new UserError("Pick the shells that are to be laid like the copied ones.");
    const [theirs, own] = [asTwins(sources), asTwins(shells)];
    const bears = ({ shape, face }: ShellAt) => saidOf(asset, scope.set, { shape: shape.id, face }).lettering === true;
    const left: ShellRef[] = [];
    const uvs = shells.map((shell, k) => {
      for (const [i, source] of sources.entries()) {
        const may = mirrored && !bears(shell) && !bears(source);
        const match = twinMatch(own[k]!, theirs[i]!, within / 100, may ? MIRRORED_TOO : AS_THEY_ARE);
        if (match) return laidOn(source.uv, match.images);
      }
      left.push({ shape: shell.shape.id, face: shell.face });
      return null;
    });
    const laid = shells.length - left.length;
    if (!laid) throw new UserError("None of these shells has the same faces as what was copied.");
    const notes: Note[] = left.length
      ? [{ words: `${count(left.length, "shell")} with other faces left as they are.`, shells: left }]
      : [];
    return {
      asset: withShellsAt(asset, scope.set, shells, uvs),
      words: `Paste the layout of ${count(sources.length, "shell")} onto ${laid}`,
      notes,
    };
  },
};

/** The shells that were copied. @throws UserError where there are none */
function copied(asset: Asset, set: string, from: string): ShellAt[] {
  const out = from
    .split(" ")
    .filter(Boolean)
    .flatMap((name): ShellAt[] => {
      const [id, face] = [name.slice(0, name.lastIndexOf("/")), Number(name.slice(name.lastIndexOf("/") + 1))];
      if (!asset.shapes.has(id) || !Number.isInteger(face)) return [];
      const shape = placedShape(asset, id);
      const layout: Layout = layoutOf(shape, set);
      const s = structureOf(shape.mesh, layout);
      const shell = shellNamed(s, face);
      if (shell === null || !getBit(layout.mapped, facesOfShell(s, shell)[0]!)) return [];
      const wedges = wedgesOfShell(shape.mesh, layout, shell);
      const uv = Float64Array.from({ length: 2 * wedges.length }, (_, i) => layout.uv[2 * wedges[i >> 1]! + (i & 1)]!);
      return [{ shape, layout, shell, face, wedges, uv, box: boxOf(uv) }];
    });
  if (!out.length) throw new UserError("Copy the layout of a shell first: pick it and press Ctrl C.");
  return out;
}
