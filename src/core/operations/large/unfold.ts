import { commonDensity, shellAreas } from "../../density/level";
import {
  type Asset,
  type LayoutChange,
  type PlacedShape,
  shapesOf,
  type UvSetId,
  withLayouts,
} from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { type Layout, shellName, structureOf } from "../../layout/layout";
import { bestFit, turned, uprightAngle } from "../../layout/orient";
import { parkBeside } from "../../layout/park";
import { isMapped, type ShellPoints, withShellPoints } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import type { Shell } from "../../mesh/indices";
import { worldPositions } from "../../mesh/transform";
import { upAxisOf } from "../../seams/visibility";
import { spreadReached } from "../../tasks/spread";
import { signedArea } from "../../unfold/conformal";
import { type ShellMesh, shellMesh } from "../../unfold/shell-mesh";
import { openUp } from "../open-up";
import type { EditContext, EditResult, Note, Scope } from "../operation";
import { layoutOf, shellsInScope } from "../scope";
import { count } from "../words";

/** Lays shells flat: conformal with a free border, then with less stretch, never flipping a face. */
export async function run(
  asset: Asset,
  scope: Scope,
  { passes, skip }: { readonly passes: number; readonly skip: boolean },
  context: EditContext,
): Promise<EditResult> {
  const work = flattened(asset, scope);
  const forms = work.map((w) => w.form);
  const { out: results, stopped } = await spreadReached(
    "unfoldShell",
    forms.map((form) => ({ form, passes })),
    forms.map((form) => form.triangles.length),
    context,
    context.progress,
  );
  const notes: Note[] = [];
  const fresh: Unfolded[] = [];
  const kept: Unfolded[] = [];
  work.forEach((item, i) => {
    const result = results[i];
    // Stopped before its turn: it stays as it was.
    if (!result) return;
    const { shape, layout, shell, form } = item;
    if (!result.ok) {
      const words = `Shell ${shell + 1} of ${shape.name} ${result.reason}.`;
      if (!skip) throw new UserError(words);
      const face = shellName(structureOf(shape.mesh, layout), shell);
      notes.push({ words, shells: [{ shape: shape.id, face }], offer: openUp.id });
    } else if (isMapped(shape.mesh, layout, shell)) {
      const uv = alignTo(form, result.uv, layout);
      holdPins(form, uv, layout, shape.name);
      kept.push({ ...item, uv });
    } else {
      const up = upAxisOf(asset);
      const angle = uprightAngle(result.uv, form.triangles, (p) => form.positions[3 * p + up]!);
      fresh.push({ ...item, uv: turned(result.uv, angle) });
    }
  });
  const unfolded = kept.length + fresh.length;
  if (!unfolded && stopped) throw stopped;
  if (!unfolded)
    throw new UserError(
      notes.length === 1
        ? notes[0]!.words
        : `None of these ${count(notes.length, "shell")} can lie flat: open them up first.`,
    );
  const changes = newLayouts([...kept, ...parkFresh(asset, scope, fresh)], scope.set);
  const edited = withLayouts(asset, changes);
  if (!stopped) return { asset: edited, words: `Unfold ${count(unfolded, "shell")}`, notes };
  const words = `Unfold ${unfolded} of ${count(work.length, "shell")}, stopped early`;
  return { asset: edited, words, notes, stopped: true };
}

/** A shell to be unfolded. */
interface ToUnfold {
  readonly shape: PlacedShape;
  readonly layout: Layout;
  readonly shell: Shell;
  readonly form: ShellMesh;
}

/** A shell with its new points. */
interface Unfolded extends ToUnfold {
  readonly uv: Float64Array;
}

/** The shells that the scope means, as the solver takes them. */
function flattened(asset: Asset, scope: Scope): ToUnfold[] {
  return shellsInScope(asset, scope).flatMap(({ shape, layout, shells }) => {
    const world = worldPositions(shape.mesh, shape.metric);
    const scratch = new Int32Array(structureOf(shape.mesh, layout).wedgeCount).fill(-1);
    return [...shells].map((shell) => ({
      shape,
      layout,
      shell,
      form: shellMesh(shape.mesh, world, layout, shell, scratch),
    }));
  });
}

function newLayouts(unfolded: readonly Unfolded[], set: UvSetId): LayoutChange[] {
  const points = new Map<PlacedShape, { layout: Layout; list: ShellPoints[] }>();
  for (const { shape, layout, shell, form, uv } of unfolded) {
    const own = points.get(shape) ?? { layout, list: [] };
    own.list.push({ shell, wedges: form.wedges, uv });
    points.set(shape, own);
  }
  return [...points].map(([shape, { layout, list }]) => ({
    shape: shape.id,
    set,
    layout: withShellPoints(shape.mesh, layout, list),
  }));
}

/** Lays shells that had no place beside what is there, at its density; alone, they fill most of the first tile. */
function parkFresh(asset: Asset, scope: Scope, fresh: readonly Unfolded[]): Unfolded[] {
  const areas = shapesOf(asset).flatMap((p) => shellAreas(p, layoutOf(p, scope.set)));
  const placed = parkBeside(
    fresh.map((f) => f.uv),
    areas.length ? commonDensity(areas) : null,
    areas.length ? bounds(asset, scope) : null,
  );
  return fresh.map((f, i) => ({ ...f, uv: placed[i]! }));
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
