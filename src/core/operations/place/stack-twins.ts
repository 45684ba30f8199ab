import { z } from "zod";
import { shellBorders } from "../../layout/shell-borders";
import { saidOf } from "../../layout/shell-marks";
import { UserError } from "../../layout/user-error";
import { outlineMatch, outlineOf } from "../../place/outline";
import { AS_THEY_ARE, MIRRORED_TOO, twinMatch } from "../../place/twin-shells";
import type { EditOperation, Note } from "../operation";
import { count } from "../words";
import { type ShellAt, shellsAt, withShellsAt } from "./shells-at";
import { asTwins, laidOn } from "./twins";

/** What makes shells twins. */
const TWINS_BY = ["what lies beside what", "their outlines"] as const;

const options = z.object({
  mirrored: z.boolean().default(true).meta({
    title: "Mirrored ones too",
    description: "Twins that mirror in space lie on each other as well; not those that bear lettering",
  }),
  by: z.enum(TWINS_BY).default("what lies beside what").meta({
    title: "Alike by",
    description:
      "Point on point, whatever their numbers; or by the outlines they have on the sheet, whatever is within",
    more: true,
  }),
  within: z.number().min(0.01).max(20).default(0.5).meta({
    title: "Alike within",
    description: "How far lengths of edges, or outlines, may differ",
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
  run(asset, scope, { mirrored, within, by }) {
    const shells = shellsAt(asset, scope);
    const bears = shells.map(
      ({ shape, face }) => saidOf(asset, scope.set, { shape: shape.id, face }).lettering === true,
    );
    const find = by === "their outlines" ? outlineTwins(shells, within / 100) : netTwins(shells, within / 100);
    const { uvs, stacks, laid, refused } = stacked(find, shells.length, mirrored, bears);
    const notes = refused.map((k): Note => {
      const { shape, face } = shells[k]!;
      const words = `A shell of ${shape.name} is left out: it would lie mirrored, and lettering could not be read.`;
      return { words, shells: [{ shape: shape.id, face }] };
    });
    if (!laid) throw new UserError(notes[0]?.words ?? "No two of these shells are twins.");
    return {
      asset: withShellsAt(asset, scope.set, shells, uvs),
      words: `Stack ${count(laid + stacks, "shell")} in ${count(stacks, "stack")}`,
      notes,
    };
  },
};

/** Looks for twins among shells. */
interface Twins {
  /** What twins share but for the tolerance: larger is farther from being one. */
  size(k: number): number;
  readonly within: number;
  /** Where a shell's points come to lie on another; null where they are no twins. */
  lay(k: number, on: number, mirrored: boolean): { readonly uv: Float64Array; readonly mirrored: boolean } | null;
}

/** Twins by what lies beside what: point on point. */
function netTwins(shells: readonly ShellAt[], within: number): Twins {
  const twins = asTwins(shells);
  return {
    within,
    size: (k) => twins[k]!.size,
    lay(k, on, mirrored) {
      const match = twinMatch(twins[k]!, twins[on]!, within, mirrored ? MIRRORED_TOO : AS_THEY_ARE);
      return match && { uv: laidOn(shells[on]!.uv, match.images), mirrored: match.mirrored };
    },
  };
}

/** Twins by their outlines on the sheet, whatever is within. */
function outlineTwins(shells: readonly ShellAt[], within: number): Twins {
  const borders = new Map<string, Float64Array[]>();
  const outlines = shells.map(({ shape, layout, shell }) => {
    const own = borders.get(shape.id) ?? shellBorders(shape.mesh, layout);
    borders.set(shape.id, own);
    return outlineOf(own[shell]!);
  });
  return {
    within,
    size: (k) => outlines[k]?.length ?? Infinity,
    lay(k, on, mirrored) {
      const [own, its] = [outlines[k], outlines[on]];
      if (!own || !its) return null;
      const match = outlineMatch(own, its, mirrored);
      if (match.off > within) return null;
      const { uv } = shells[k]!;
      const out = new Float64Array(uv.length);
      for (let i = 0; i < uv.length; i += 2) {
        const x = (match.mirrored ? -1 : 1) * (uv[i]! - own.middle[0]);
        const y = uv[i + 1]! - own.middle[1];
        out[i] = match.cos * x - match.sin * y + its.middle[0];
        out[i + 1] = match.sin * x + match.cos * y + its.middle[1];
      }
      return { uv: out, mirrored: match.mirrored };
    },
  };
}

/** Lays each shell onto the first of which it is a twin, by size. @param bears which bear lettering */
function stacked(twins: Twins, total: number, mirrored: boolean, bears: readonly boolean[]) {
  const uvs: Array<Float64Array | null> = new Array(total).fill(null);
  const order = Array.from(uvs, (_, i) => i).sort((a, b) => twins.size(a) - twins.size(b) || a - b);
  const done = new Uint8Array(total);
  const refused: number[] = [];
  let [stacks, laid] = [0, 0];
  for (const [at, first] of order.entries()) {
    if (done[first] || !Number.isFinite(twins.size(first))) continue;
    let members = 0;
    for (let next = at + 1; next < total; next++) {
      const k = order[next]!;
      if (twins.size(k) > twins.size(first) * (1 + twins.within)) break;
      const found = done[k] ? null : twins.lay(k, first, mirrored);
      if (!found) continue;
      if (found.mirrored && (bears[k] || bears[first])) {
        refused.push(k);
        continue;
      }
      done[k] = 1;
      members++;
      uvs[k] = found.uv;
    }
    if (members) stacks++;
    laid += members;
  }
  return { uvs, stacks, laid, refused };
}
