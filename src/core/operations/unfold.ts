import { z } from "zod";
import { commonDensity, shellAreas } from "../density/level";
import { type Asset, layoutParts, measuringTransform, type Part, withLayouts } from "../layout/asset";
import { bestFit, turned, uprightAngle } from "../layout/orient";
import { parkBeside } from "../layout/park";
import { isMapped, type ShellPoints, withShellPoints } from "../layout/shell-points";
import { UserError } from "../layout/user-error";
import { structureOf, type UvSet } from "../layout/uv-set";
import { worldPositions } from "../mesh/transform";
import { signedArea } from "../unfold/conformal";
import { type ShellMesh, shellMesh } from "../unfold/shell-mesh";
import { unfoldShell } from "../unfold/unfold-shell";
import type { EditOperation, Note, Scope } from "./operation";
import { layoutOf, shellsInScope } from "./scope";
import { count } from "./words";

const options = z.object({
  passes: z.number().int().min(0).max(200).default(20).meta({
    title: "Passes",
    description: "Passes of lessening stretch; 0 keeps angles only (conformal)",
    unit: "passes",
  }),
  skip: z
    .boolean()
    .default(false)
    .meta({ title: "Leave out what cannot lie flat", description: "Unfold the other shells when one cannot lie flat" }),
});

/** Lays shells flat: conformal with a free border, then with less stretch, never flipping a face. */
export const unfold: EditOperation<z.infer<typeof options>> = {
  id: "unfold",
  title: "Unfold",
  about:
    "Lays shells flat along their seams with little stretch. A shell that has a place keeps place, turn and density.",
  kind: "edit",
  stage: "unfold",
  acts: "shells",
  options,
  async run(asset, scope, { passes, skip }, context) {
    const notes: Note[] = [];
    const work = shellsInScope(asset, scope);
    const total = work.reduce((sum, w) => sum + w.part.mesh.cornerVertex.length, 0) || 1;
    const fresh: Array<{ part: Part; points: ShellPoints; uv: Float64Array }> = [];
    const kept = new Map<Part, ShellPoints[]>();
    let done = 0;
    let unfolded = 0;
    for (const { part, layout, shells } of work) {
      const world = worldPositions(part.mesh, measuringTransform(asset, part));
      const scratch = new Int32Array(structureOf(part.mesh, layout).wedgeCount).fill(-1);
      for (const shell of shells) {
        const form = shellMesh(part.mesh, world, layout, shell, scratch);
        const share = done / total;
        const result = unfoldShell(form, {
          passes,
          onPass: (pass) => context.progress(share + ((form.triangles.length / total) * pass) / (passes + 1)),
        });
        done += form.triangles.length;
        context.progress(Math.min(1, done / total));
        if (!result.ok) {
          const words = `Shell ${shell + 1} of ${part.name} ${result.reason}.`;
          if (!skip) throw new UserError(words);
          notes.push({ words, shells: [{ part: part.id, shell }], offer: "open-up" });
          continue;
        }
        unfolded++;
        if (isMapped(part.mesh, layout, shell)) {
          const uv = alignTo(form, result.uv, layout);
          kept.set(part, [...(kept.get(part) ?? []), { shell, wedges: form.wedges, uv }]);
        } else {
          const up = asset.up === "y" ? 1 : 2;
          const uv = turned(
            result.uv,
            uprightAngle(result.uv, form.triangles, (p) => form.positions[3 * p + up]!),
          );
          fresh.push({ part, points: { shell, wedges: form.wedges, uv }, uv });
        }
      }
    }
    if (!unfolded)
      throw new UserError(
        notes.length === 1
          ? notes[0]!.words
          : `None of these ${count(notes.length, "shell")} can lie flat: open them up first.`,
      );
    const parked = parkFresh(asset, scope, fresh);
    const changes = work.flatMap(({ part, layout }) => {
      const points = [...(kept.get(part) ?? []), ...(parked.get(part) ?? [])];
      return points.length
        ? [{ part: part.id, set: scope.set, layout: withShellPoints(part.mesh, layout, points) }]
        : [];
    });
    return { asset: withLayouts(asset, changes), words: `Unfold ${count(unfolded, "shell")}`, notes };
  },
};

/** Lays shells that had no place beside what is there, at its density; alone, they fill most of the first tile. */
function parkFresh(
  asset: Asset,
  scope: Scope,
  fresh: ReadonlyArray<{ part: Part; points: ShellPoints; uv: Float64Array }>,
): Map<Part, ShellPoints[]> {
  const areas = layoutParts(asset).flatMap((p) => shellAreas(asset, p, layoutOf(p, scope.set)));
  const placed = parkBeside(
    fresh.map((f) => f.uv),
    areas.length ? commonDensity(areas) : null,
    areas.length ? bounds(asset, scope) : null,
  );
  const out = new Map<Part, ShellPoints[]>();
  fresh.forEach(({ part, points }, i) => {
    out.set(part, [...(out.get(part) ?? []), { ...points, uv: placed[i]! }]);
  });
  return out;
}

function bounds(asset: Asset, scope: Scope): { u1: number; v0: number } {
  let [u1, v0] = [1, 0];
  for (const part of layoutParts(asset)) {
    const { uv } = layoutOf(part, scope.set);
    for (let i = 0; i < uv.length; i += 2) {
      u1 = Math.max(u1, uv[i]!);
      v0 = Math.min(v0, uv[i + 1]!);
    }
  }
  return { u1, v0 };
}

/** New points of a shell brought to the place, turn, handedness and density it had. */
export function alignTo(form: ShellMesh, uv: Float64Array, layout: UvSet): Float64Array {
  const old = new Float64Array(uv.length);
  form.wedges.forEach((w, i) => {
    old[2 * i] = layout.uv[2 * w]!;
    old[2 * i + 1] = layout.uv[2 * w + 1]!;
  });
  let [before, after] = [0, 0];
  for (let t = 0; t < form.triangles.length; t += 3) {
    before += signedArea(old, form.triangles, t);
    after += signedArea(uv, form.triangles, t);
  }
  if (before === 0) return uv;
  const scale = Math.sqrt(Math.abs(before) / after);
  const sized = uv.map((x, i) => (before < 0 && i % 2 === 0 ? -x * scale : x * scale));
  const { angle } = bestFit(sized, old);
  const turnedUv = turned(sized, angle);
  // Place: the middles of the two areas meet.
  const from = middle(turnedUv, form.triangles);
  const to = middle(old, form.triangles);
  return turnedUv.map((x, i) => x + to[i % 2]! - from[i % 2]!);
}

function middle(uv: Float64Array, triangles: Uint32Array): [number, number] {
  let [sum, u, v] = [0, 0, 0];
  for (let t = 0; t < triangles.length; t += 3) {
    const area = signedArea(uv, triangles, t);
    sum += area;
    for (let k = 0; k < 3; k++) {
      u += (area * uv[2 * triangles[t + k]!]!) / 3;
      v += (area * uv[2 * triangles[t + k]! + 1]!) / 3;
    }
  }
  return sum ? [u / sum, v / sum] : [0, 0];
}
