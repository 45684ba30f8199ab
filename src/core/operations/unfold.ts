import { z } from "zod";
import { commonDensity, shellAreas } from "../density/level";
import { type Asset, type PlacedShape, shapesOf, withLayouts } from "../layout/asset";
import { getBit } from "../layout/bits";
import { type Layout, shellName, structureOf } from "../layout/layout";
import { bestFit, turned, uprightAngle } from "../layout/orient";
import { parkBeside } from "../layout/park";
import { isMapped, type ShellPoints, withShellPoints } from "../layout/shell-points";
import { UserError } from "../layout/user-error";
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
    const total = work.reduce((sum, w) => sum + w.shape.mesh.cornerVertex.length, 0) || 1;
    const fresh: Array<{ shape: PlacedShape; points: ShellPoints; uv: Float64Array }> = [];
    const kept = new Map<PlacedShape, ShellPoints[]>();
    let done = 0;
    let unfolded = 0;
    for (const { shape, layout, shells } of work) {
      const world = worldPositions(shape.mesh, shape.metric);
      const scratch = new Int32Array(structureOf(shape.mesh, layout).wedgeCount).fill(-1);
      for (const shell of shells) {
        const form = shellMesh(shape.mesh, world, layout, shell, scratch);
        const share = done / total;
        const result = unfoldShell(form, {
          passes,
          onPass: (pass) => context.progress(share + ((form.triangles.length / total) * pass) / (passes + 1)),
        });
        done += form.triangles.length;
        context.progress(Math.min(1, done / total));
        if (!result.ok) {
          const words = `Shell ${shell + 1} of ${shape.name} ${result.reason}.`;
          if (!skip) throw new UserError(words);
          notes.push({
            words,
            shells: [{ shape: shape.id, face: shellName(structureOf(shape.mesh, layout), shell) }],
            offer: "open-up",
          });
          continue;
        }
        unfolded++;
        if (isMapped(shape.mesh, layout, shell)) {
          const uv = alignTo(form, result.uv, layout);
          holdPins(form, uv, layout, shape.name);
          kept.set(shape, [...(kept.get(shape) ?? []), { shell, wedges: form.wedges, uv }]);
        } else {
          const up = asset.up === "y" ? 1 : 2;
          const uv = turned(
            result.uv,
            uprightAngle(result.uv, form.triangles, (p) => form.positions[3 * p + up]!),
          );
          fresh.push({ shape, points: { shell, wedges: form.wedges, uv }, uv });
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
    const changes = work.flatMap(({ shape, layout }) => {
      const points = [...(kept.get(shape) ?? []), ...(parked.get(shape) ?? [])];
      return points.length
        ? [{ shape: shape.id, set: scope.set, layout: withShellPoints(shape.mesh, layout, points) }]
        : [];
    });
    return { asset: withLayouts(asset, changes), words: `Unfold ${count(unfolded, "shell")}`, notes };
  },
};

/** Lays shells that had no place beside what is there, at its density; alone, they fill most of the first tile. */
function parkFresh(
  asset: Asset,
  scope: Scope,
  fresh: ReadonlyArray<{ shape: PlacedShape; points: ShellPoints; uv: Float64Array }>,
): Map<PlacedShape, ShellPoints[]> {
  const areas = shapesOf(asset).flatMap((p) => shellAreas(p, layoutOf(p, scope.set)));
  const placed = parkBeside(
    fresh.map((f) => f.uv),
    areas.length ? commonDensity(areas) : null,
    areas.length ? bounds(asset, scope) : null,
  );
  const out = new Map<PlacedShape, ShellPoints[]>();
  fresh.forEach(({ shape, points }, i) => {
    out.set(shape, [...(out.get(shape) ?? []), { ...points, uv: placed[i]! }]);
  });
  return out;
}

function bounds(asset: Asset, scope: Scope): { u1: number; v0: number } {
  let [u1, v0] = [1, 0];
  for (const shape of shapesOf(asset)) {
    const { uv } = layoutOf(shape, scope.set);
    for (let i = 0; i < uv.length; i += 2) {
      u1 = Math.max(u1, uv[i]!);
      v0 = Math.min(v0, uv[i + 1]!);
    }
  }
  return { u1, v0 };
}

/**
 * Brings the pinned points of a shell back to where they were, by moving, turning and scaling all of it.
 *
 * @throws UserError for more pins than that can hold
 */
export function holdPins(form: ShellMesh, uv: Float64Array, layout: Layout, name: string): void {
  const pins = [...form.wedges.keys()].filter((i) => getBit(layout.pinned, form.wedges[i]!));
  if (!pins.length) return;
  if (pins.length > 2)
    throw new UserError(
      `A shell of ${name} has ${pins.length} pinned points; two can be held while it is unfolded. Unpin the others first.`,
    );
  const from = Float64Array.from(pins.flatMap((i) => [uv[2 * i]!, uv[2 * i + 1]!]));
  const to = Float64Array.from(
    pins.flatMap((i) => [layout.uv[2 * form.wedges[i]!]!, layout.uv[2 * form.wedges[i]! + 1]!]),
  );
  const fit =
    pins.length === 2 ? bestFit(from, to) : { scale: 1, angle: 0, du: to[0]! - from[0]!, dv: to[1]! - from[1]! };
  const [c, s] = [fit.scale * Math.cos(fit.angle), fit.scale * Math.sin(fit.angle)];
  for (let i = 0; i < uv.length; i += 2) {
    const [u, v] = [uv[i]!, uv[i + 1]!];
    uv[i] = c * u - s * v + fit.du;
    uv[i + 1] = s * u + c * v + fit.dv;
  }
  // To the last bit: pinned means that the number does not change.
  for (const [k, i] of pins.entries()) uv.set(to.subarray(2 * k, 2 * k + 2), 2 * i);
}

/** New points of a shell brought to the place, turn, handedness and density it had. */
export function alignTo(form: ShellMesh, uv: Float64Array, layout: Layout): Float64Array {
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
