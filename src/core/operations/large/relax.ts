import { type Asset, type LayoutChange, type PlacedShape, withLayouts } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { type Layout, shellName, structureOf, withPoints } from "../../layout/layout";
import { pointNames } from "../../layout/point-names";
import { isMapped } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import type { Shell } from "../../mesh/indices";
import { worldPositions } from "../../mesh/transform";
import { converted } from "../../select/convert";
import { elementCount, flagsAt } from "../../select/grow";
import { spreadReached } from "../../tasks/spread";
import { type ShellMesh, shellMesh } from "../../unfold/shell-mesh";
import type { EditContext, EditResult, Note, Scope } from "../operation";
import { layoutOf, shellsInScope } from "../scope";
import { unfold } from "../unfold";
import { count } from "../words";
import { pointsOf } from "./unfold";

interface Work {
  readonly shape: PlacedShape;
  readonly layout: Layout;
  readonly shell: Shell;
  readonly form: ShellMesh;
  readonly moves: Uint8Array;
}

/** By wedge, whether the scope means it: picked points, corners of what is picked, or all. */
function meantPoints(shape: PlacedShape, layout: Layout, { selection }: Scope): Uint8Array | null {
  const items = selection?.items.get(shape.id);
  if (!selection || !items || selection.kind === "shells") return null;
  const flags = flagsAt(items, elementCount(shape.mesh, selection.kind));
  const points = converted(shape.mesh, layout, selection.kind, flags, "points", "touching");
  return Uint8Array.from(pointNames(structureOf(shape.mesh, layout)), (c) => points[c]!);
}

function workOf(asset: Asset, scope: Scope): Work[] {
  return shellsInScope(asset, scope).flatMap(({ shape, shells }) => {
    const layout = layoutOf(shape, scope.set);
    const world = worldPositions(shape.mesh, shape.metric);
    const meant = meantPoints(shape, layout, scope);
    return [...shells].flatMap((shell): Work[] => {
      if (!isMapped(shape.mesh, layout, shell)) return [];
      const form = shellMesh(shape.mesh, world, layout, shell);
      const moves = Uint8Array.from(form.wedges, (w) => (!getBit(layout.pinned, w) && (meant?.[w] ?? 1) ? 1 : 0));
      return moves.some(Boolean) ? [{ shape, layout, shell, form, moves }] : [];
    });
  });
}

/** Evens out stretch where it is, point by point. */
export async function run(
  asset: Asset,
  scope: Scope,
  { strength, passes }: { readonly strength: number; readonly passes: number },
  context: EditContext,
): Promise<EditResult> {
  const work = workOf(asset, scope);
  if (!work.length) throw new UserError("Nothing here has coordinates that may move: unfold it, or unpin some points.");
  const { out, stopped } = await spreadReached(
    "relaxShell",
    work.map(({ form, layout, moves }) => ({ form, uv: pointsOf(form, layout), moves, strength, passes })),
    work.map((w) => w.form.triangles.length),
    context,
    context.progress,
  );
  const notes: Note[] = [];
  const layouts = new Map<PlacedShape, { layout: Layout; uv: Float64Array }>();
  let done = 0;
  work.forEach(({ shape, layout, shell, form }, i) => {
    const result = out[i];
    if (!result) return;
    done++;
    const own = layouts.get(shape) ?? { layout, uv: layout.uv.slice() };
    form.wedges.forEach((w, k) => {
      own.uv.set(result.uv.subarray(2 * k, 2 * k + 2), 2 * w);
    });
    layouts.set(shape, own);
    if (!result.flipped) return;
    const words = `${count(result.flipped, "triangle")} of shell ${shell + 1} of ${shape.name} could not be turned over here: unfold it.`;
    notes.push({
      words,
      shells: [{ shape: shape.id, face: shellName(structureOf(shape.mesh, layout), shell) }],
      offer: unfold.id,
    });
  });
  if (!done && stopped) throw stopped;
  const changes: LayoutChange[] = [...layouts].map(([shape, { layout, uv }]) => ({
    shape: shape.id,
    set: scope.set,
    layout: withPoints(layout, uv),
  }));
  const words = stopped
    ? `Relax ${done} of ${count(work.length, "shell")}, stopped early`
    : `Relax ${count(done, "shell")}`;
  return { asset: withLayouts(asset, changes), words, notes, ...(stopped ? { stopped: true } : {}) };
}
