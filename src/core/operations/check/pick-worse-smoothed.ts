import { z } from "zod";
import { type Measures, measure } from "../../check/measure";
import { type Asset, placedShape, type ShapeId } from "../../layout/asset";
import { type ShellRef, shellName, structureOf } from "../../layout/layout";
import type { SelectOperation } from "../operation";
import { layoutOf } from "../scope";
import { count } from "../words";
import { type Smoothing, smoothed, smoothingOptions, stretchWords } from "./smoothing";

const options = z.object({
  ...smoothingOptions,
  more: z.number().min(0).max(10).default(0.02).meta({
    title: "More stretch",
    description: "Shells whose mean stretch grows by more than this are picked; 1 is no stretch",
  }),
});

/** Picks the shells that come to be worse when the form is smoothed. */
export const pickWorseSmoothed: SelectOperation<z.infer<typeof options>> = {
  id: "pick-worse-smoothed",
  title: "Pick: Worse when smoothed",
  about:
    "Subdivides the form for a look, and picks the shells that flip, come to lie over others or are stretched more by that; nothing is changed.",
  kind: "select",
  stage: "check",
  heading: "Smoothed form",
  acts: "parts",
  options,
  run(asset, scope, asked, context) {
    const { asset: after, fromFace } = smoothed(asset, scope, asked satisfies Smoothing);
    context.progress(0.3);
    const before = measure(asset, undefined, scope.set);
    const now = measure(after, undefined, scope.set);
    const nameOf = (ref: ShellRef) => nameBefore(asset, scope.set, fromFace, ref);
    const stretch = new Map(before.perShell.map((s) => [keyOf(s), s]));
    const [flipped, stretched] = [new Set<string>(), new Set<string>()];
    for (const row of now.perShell) {
      const was = stretch.get(keyOf(nameOf(row)));
      if (!was) continue;
      if (row.flipped && !was.flipped) flipped.add(keyOf(was));
      if (row.energy > was.energy + asked.more) stretched.add(keyOf(was));
    }
    const known = overlapping(before, (ref) => ref);
    const over = new Set([...overlapping(now, nameOf)].filter((key) => !known.has(key)));
    const worse = new Set([...flipped, ...over, ...stretched]);
    const items = new Map<ShapeId, number[]>();
    for (const key of worse) {
      const { shape, face } = stretch.get(key)!;
      items.set(shape, [...(items.get(shape) ?? []), face]);
    }
    const kinds = [
      [flipped.size, "with flipped faces"],
      [over.size, "over others or itself"],
      [stretched.size, "stretched more"],
    ] as const;
    const told = kinds.filter(([n]) => n).map(([n, words]) => `${n} ${words}`);
    const words = `${stretchWords(before, now)}; ${told.length ? `${count(worse.size, "shell")} worse: ${told.join(", ")}` : "no shell is worse"}`;
    return {
      selection: {
        kind: "shells",
        items: new Map([...items].map(([id, list]) => [id, Uint32Array.from(list).sort()])),
      },
      words: `${words[0]!.toUpperCase()}${words.slice(1)}.`,
    };
  },
};

const keyOf = ({ shape, face }: ShellRef): string => `${shape} ${face}`;

/** The shell of the plain form that one of the smoothed form comes of. */
function nameBefore(asset: Asset, set: string, fromFace: ReadonlyMap<ShapeId, Uint32Array>, ref: ShellRef): ShellRef {
  const from = fromFace.get(ref.shape);
  if (!from) return ref;
  const shape = placedShape(asset, ref.shape);
  const s = structureOf(shape.mesh, layoutOf(shape, set));
  return { shape: ref.shape, face: shellName(s, s.faceShell[from[ref.face]!]!) };
}

/** Shells that share area with others or lie over themselves, stacks left out. */
function overlapping({ overlapPairs }: Measures, nameOf: (ref: ShellRef) => ShellRef): Set<string> {
  const out = new Set<string>();
  for (const { a, b, stacked } of overlapPairs ?? [])
    if (!stacked) for (const ref of [a, b]) out.add(keyOf(nameOf(ref)));
  return out;
}
