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
import { facesOfShell, isBarrier, type Layout, shellName, structureOf } from "../../layout/layout";
import { bestFit, turned, uprightAngle } from "../../layout/orient";
import { parkBeside } from "../../layout/park";
import { pointNames } from "../../layout/point-names";
import { isMapped, type ShellPoints, withShellPoints } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import type { Way } from "../../layout/ways";
import type { Edge, Shell } from "../../mesh/indices";
import type { PolyMesh } from "../../mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, topologyOf, windsAlike } from "../../mesh/topology";
import { worldPositions } from "../../mesh/transform";
import { vertexGraph } from "../../mesh/walks";
import { upAxisOf } from "../../seams/visibility";
import { converted } from "../../select/convert";
import { elementCount, flagsAt } from "../../select/grow";
import { spreadReached } from "../../tasks/spread";
import { signedArea } from "../../unfold/conformal";
import { WORTH } from "../../unfold/easing-cut";
import type { Keeping } from "../../unfold/guided-unfold";
import { formOf, type ShellMesh, shellMesh } from "../../unfold/shell-mesh";
import type { Unfolded } from "../../unfold/unfold-shell";
import { cut } from "../cut";
import { openUp } from "../open-up";
import type { EditContext, EditResult, Note, Scope } from "../operation";
import { layoutOf, shellsInScope } from "../scope";
import { count } from "../words";

interface UnfoldInput {
  readonly passes: number;
  readonly lean: number;
  readonly along: Way;
  readonly what: "shells" | "picked" | "rest";
  readonly overItself: boolean;
  readonly skip: boolean;
}

/** Lays shells flat: conformal with a free border, then with less stretch, never flipping a face. */
export async function run(asset: Asset, scope: Scope, options: UnfoldInput, context: EditContext): Promise<EditResult> {
  const { skip } = options;
  const work = flattened(asset, scope, options);
  const { out: results, stopped } = await unfolded(work, options, context);
  const notes: Note[] = [];
  const fresh: Placed[] = [];
  const kept: Placed[] = [];
  work.forEach((item, i) => {
    const result = results[i];
    // Stopped before its turn: it stays as it was.
    if (!result) return;
    const { shape, layout, shell, form } = item;
    if (!result.ok) {
      const words = `Shell ${shell + 1} of ${shape.name} ${result.reason}.`;
      if (!skip) throw new UserError(words);
      const face = shellName(structureOf(shape.mesh, layout), shell);
      const edges = edgesBehind(item);
      notes.push({
        words,
        shells: [{ shape: shape.id, face }],
        ...(edges.length ? { edges: { shape: shape.id, edges } } : {}),
        ...(item.keeping ? {} : { offer: openUp.id }),
      });
    } else if (item.keeping) kept.push({ ...item, uv: result.uv });
    else if (isMapped(shape.mesh, layout, shell)) kept.push({ ...item, uv: alignTo(form, result.uv, layout) });
    else {
      const up = upAxisOf(asset);
      const angle = uprightAngle(result.uv, form.triangles, (p) => form.positions[3 * p + up]!);
      fresh.push({ ...item, uv: turned(result.uv, angle) });
    }
  });
  notes.push(...(await easingCuts(work, results, options, context)));
  const done = kept.length + fresh.length;
  if (!done && stopped) throw stopped;
  if (!done)
    throw new UserError(
      notes.length === 1
        ? notes[0]!.words
        : `None of these ${count(notes.length, "shell")} can lie flat: open them up first.`,
    );
  const changes = newLayouts([...kept, ...parkFresh(asset, scope, fresh)], scope.set);
  const edited = withLayouts(asset, changes);
  if (!stopped) return { asset: edited, words: `Unfold ${count(done, "shell")}`, notes };
  const words = `Unfold ${done} of ${count(work.length, "shell")}, stopped early`;
  return { asset: edited, words, notes, stopped: true };
}

/**
 * The edges for which a shell cannot lie flat: those at which faces wind against each other or more than two meet, else
 * its borders where it has several. None for one that is closed, or has a handle: that is no matter of single edges.
 */
function edgesBehind({ shape: { mesh }, layout, shell, form }: ToUnfold): Uint32Array {
  const { faults, loops } = formOf(form);
  if (!faults && loops.length < 2) return new Uint32Array(0);
  const t = topologyOf(mesh);
  const isBehind = (e: Edge): boolean => {
    if (!faults) return isBarrier(t, layout, e);
    const faces = edgeFaceCount(t, e);
    return faces > 2 || (faces === 2 && !windsAlike(mesh, t, edgeCorner(t, e), edgeCorner(t, e, 1)));
  };
  const out = new Set<number>();
  for (const f of facesOfShell(structureOf(mesh, layout), shell))
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
      if (isBehind(t.cornerEdge[c]!)) out.add(t.cornerEdge[c]!);
  return Uint32Array.from(out).sort();
}

/** Notes on shells that are stretched a good deal only to keep beside themselves, each with the cut that would ease it. */
async function easingCuts(
  work: readonly ToUnfold[],
  results: ReadonlyArray<Unfolded | undefined>,
  { passes, overItself }: UnfoldInput,
  context: EditContext,
): Promise<Note[]> {
  const pressed = work.flatMap((w, i) => {
    const result = results[i];
    return result?.ok && result.windsAbout && result.energy >= WORTH && !w.keeping
      ? [{ ...w, energy: result.energy }]
      : [];
  });
  if (overItself || !passes || !pressed.length) return [];
  const inputs = pressed.map(({ form, energy }) => ({ form, energy, passes }));
  const weights = inputs.map((w) => w.form.triangles.length);
  const { out } = await spreadReached("easingCut", inputs, weights, context, () => {});
  return pressed.flatMap(({ shape, layout, shell, form }, i): Note[] => {
    const way = out[i];
    if (!way) return [];
    const s = structureOf(shape.mesh, layout);
    const edges = edgesAlong(
      shape.mesh,
      way.map((p) => s.wedgeVertex[form.wedges[p]!]!),
    );
    const words = `Shell ${shell + 1} of ${shape.name} is stretched only to keep beside itself: the cut that is told would ease it.`;
    return [
      {
        words,
        shells: [{ shape: shape.id, face: shellName(s, shell) }],
        edges: { shape: shape.id, edges },
        offer: cut.id,
      },
    ];
  });
}

/** The edges from vertex to vertex. */
function edgesAlong(mesh: PolyMesh, way: readonly number[]): Uint32Array {
  const { start, to, link } = vertexGraph(mesh);
  const out = way.slice(1).flatMap((v, i) => {
    for (let k = start[v]!; k < start[v + 1]!; k++) if (to[k] === way[i]) return [link[k]!];
    return [];
  });
  return Uint32Array.from(out).sort();
}

/** A shell to be unfolded. */
interface ToUnfold {
  readonly shape: PlacedShape;
  readonly layout: Layout;
  readonly shell: Shell;
  readonly form: ShellMesh;
  /** What it keeps to of the layout it has, where it does. */
  readonly keeping: Keeping | null;
}

/** A shell with its new points. */
interface Placed extends ToUnfold {
  readonly uv: Float64Array;
}

/** The shells that the scope means, as the solver takes them. */
function flattened(asset: Asset, scope: Scope, options: UnfoldInput): ToUnfold[] {
  return shellsInScope(asset, scope).flatMap(({ shape, layout, shells }) => {
    const world = worldPositions(shape.mesh, shape.metric);
    const scratch = new Int32Array(structureOf(shape.mesh, layout).wedgeCount).fill(-1);
    const still = stillPoints(shape, layout, scope, options.what);
    return [...shells].map((shell) => {
      const form = shellMesh(shape.mesh, world, layout, shell, scratch);
      return { shape, layout, shell, form, keeping: keepingOf({ shape, layout, shell, form }, still, options) };
    });
  });
}

/** 1 for every wedge that stays where it is, besides pinned ones. */
function stillPoints(shape: PlacedShape, layout: Layout, scope: Scope, what: UnfoldInput["what"]): Uint8Array | null {
  if (what === "shells") return null;
  const { selection } = scope;
  if (!selection || selection.kind === "shells")
    throw new UserError("Pick UV points, vertices, edges or faces: they are what moves, or what stays.");
  const { mesh } = shape;
  const flags = flagsAt(selection.items.get(shape.id)!, elementCount(mesh, selection.kind));
  // What moves alone has nothing unpicked about it; what stays has anything picked about it.
  const how = what === "picked" ? "contained" : "touching";
  const points = converted(mesh, layout, selection.kind, flags, "points", how);
  const s = structureOf(mesh, layout);
  return Uint8Array.from(pointNames(s), (c) => (points[c] ? 1 : 0) ^ (what === "picked" ? 1 : 0));
}

/** What a shell keeps to of its layout; nothing for one that is laid out anew. @throws UserError for what it has none for */
function keepingOf(
  { shape, layout, shell, form }: Omit<ToUnfold, "keeping">,
  still: Uint8Array | null,
  { along, overItself, lean }: UnfoldInput,
): Keeping | null {
  const held = Uint8Array.from(form.wedges, (w) => (getBit(layout.pinned, w) || still?.[w] ? 1 : 0));
  if (along === "both" && !held.some(Boolean)) return null;
  if (!isMapped(shape.mesh, layout, shell))
    throw new UserError(
      `Shell ${shell + 1} of ${shape.name} has no coordinates yet: unfold it whole, along both axes, first.`,
    );
  if (held.every(Boolean)) throw new UserError(`No point of shell ${shell + 1} of ${shape.name} is left to move.`);
  return { held, way: along, overItself, lean };
}

/** Unfolds all of them, as many side by side as there are workers. */
async function unfolded(work: readonly ToUnfold[], { passes, overItself, lean }: UnfoldInput, context: EditContext) {
  const guided = work.filter((w) => w.keeping);
  const free = work.filter((w) => !w.keeping);
  const weigh = (list: readonly ToUnfold[]) => list.map((w) => w.form.triangles.length);
  const total = weigh(work).reduce((a, b) => a + b, 0) || 1;
  const share = weigh(free).reduce((a, b) => a + b, 0) / total;
  const first = await spreadReached(
    "unfoldShell",
    free.map(({ form }) => ({ form, passes, overItself, lean })),
    weigh(free),
    context,
    (done) => context.progress(done * share),
  );
  const second = first.stopped
    ? null
    : await spreadReached(
        "unfoldGuided",
        guided.map(({ form, layout, keeping }) => ({ form, passes, uv: pointsOf(form, layout), keeping: keeping! })),
        weigh(guided),
        context,
        (done) => context.progress(share + done * (1 - share)),
      );
  const results = new Map(free.map((w, i) => [w, first.out[i]]));
  guided.forEach((w, i) => {
    results.set(w, second?.out[i]);
  });
  return { out: work.map((w) => results.get(w)), stopped: first.stopped ?? second?.stopped ?? null };
}

/** The points of a shell as they lie. */
export const pointsOf = ({ wedges }: ShellMesh, { uv }: Layout): Float64Array =>
  Float64Array.from({ length: 2 * wedges.length }, (_, i) => uv[2 * wedges[i >> 1]! + (i & 1)]!);

function newLayouts(unfolded: readonly Placed[], set: UvSetId): LayoutChange[] {
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
function parkFresh(asset: Asset, scope: Scope, fresh: readonly Placed[]): Placed[] {
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

/** New points of a shell brought to the place, turn, handedness and density it had. */
export function alignTo(form: ShellMesh, uv: Float64Array, layout: Layout): Float64Array {
  const old = pointsOf(form, layout);
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
