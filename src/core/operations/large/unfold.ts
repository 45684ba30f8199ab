import { type Asset, type PlacedShape, shapesOf, type UvSetId, withLayouts } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { facesOfShell, type Layout, type ShellRef, shellName, structureOf } from "../../layout/layout";
import { turned, uprightAngle } from "../../layout/orient";
import { pointNames } from "../../layout/point-names";
import { isFrozen, isMapped } from "../../layout/shell-points";
import { refuseTooMany, smoothedVertices } from "../../layout/subdivide";
import { UserError } from "../../layout/user-error";
import type { Way } from "../../layout/ways";
import type { Shell } from "../../mesh/indices";
import { worldPositions } from "../../mesh/transform";
import { trianglesOf } from "../../mesh/triangulate";
import { upAxisOf } from "../../seams/visibility";
import { converted } from "../../select/convert";
import { elementCount, flagsAt } from "../../select/grow";
import { spreadReached } from "../../tasks/spread";
import { alignedLike } from "../../unfold/align";
import type { Keeping } from "../../unfold/guided-unfold";
import { addErrors, errorWords, type MapErrors, mapErrors, NO_ERRORS } from "../../unfold/map-errors";
import { pointsOf, shellMesh } from "../../unfold/shell-mesh";
import { lostInSingle } from "../../unfold/single-precision";
import { firstTwins } from "../../unfold/twins";
import { openUp } from "../open-up";
import type { EditContext, EditResult, Note, Scope } from "../operation";
import { unpin } from "../pin";
import { layoutOf, shapesInScope, shellsInScope } from "../scope";
import { count } from "../words";
import { easingCuts, edgesBehind } from "./easing-notes";
import { newLayouts, type ShapeShell, shownAsTheyCome } from "./new-layouts";
import { parkedBeside } from "./parked";
import { onAxisNotes, partedNotes, unlikeNotes } from "./why-notes";

interface UnfoldInput {
  readonly passes: number;
  readonly form: "any" | "hard-edged" | "rounded";
  readonly lean: number;
  readonly along: Way;
  readonly what: "shells" | "picked" | "rest";
  readonly weight: number;
  readonly symmetric: boolean;
  readonly smoothed: number;
  readonly overItself: boolean;
  readonly skip: boolean;
}

/** Which way forms lean: hard-edged ones keep their areas, rounded ones their angles. */
const LEANS = { "hard-edged": 0.6, rounded: -0.6 } as const;

/** Lays shells flat: conformal with a free border, then with less stretch, never flipping a face. */
export async function run(asset: Asset, scope: Scope, asked: UnfoldInput, context: EditContext): Promise<EditResult> {
  const options = asked.form === "any" ? asked : { ...asked, lean: LEANS[asked.form] };
  const { skip } = options;
  const { work, notes } = flattened(asset, scope, options);
  const { out: results, stopped } = await unfolded(work, options, scope.set, context);
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
    else if (isMapped(shape.mesh, layout, shell))
      kept.push({ ...item, uv: alignedLike(form.triangles, pointsOf(form, layout), result.uv) });
    else {
      const up = upAxisOf(asset);
      const angle = uprightAngle(result.uv, form.triangles, (p) => form.positions[3 * p + up]!);
      fresh.push({ ...item, uv: turned(result.uv, angle) });
    }
  });
  if (options.passes && !options.overItself) notes.push(...(await easingCuts(work, results, options.passes, context)));
  const done = kept.length + fresh.length;
  if (!done && stopped) throw stopped;
  if (!done)
    throw new UserError(
      notes.length === 1
        ? notes[0]!.words
        : `None of these ${count(notes.length, "shell")} can lie flat: open them up first.`,
    );
  const placed = [...kept, ...parkFresh(asset, scope, fresh)];
  notes.push(...singlePrecisionNotes(placed));
  const edited = withLayouts(asset, newLayouts(placed, scope.set));
  const errors = placed.map(({ form, uv }) => mapErrors(form, uv));
  notes.push(...whyNotes(placed, errors, scope, options.along));
  const gave = errorWords(errors.reduce(addErrors, NO_ERRORS));
  if (!stopped) return { asset: edited, words: `Unfold ${count(done, "shell")}: ${gave}`, notes };
  const words = `Unfold ${done} of ${count(work.length, "shell")}, stopped early: ${gave}`;
  return { asset: edited, words, notes, stopped: true };
}

/** Notes on what came out other than one might expect. */
function whyNotes(placed: readonly Placed[], errors: readonly MapErrors[], scope: Scope, along: Way): Note[] {
  const layouts = new Map(placed.map(({ shape, layout }) => [shape, layout]));
  return [
    ...placed.flatMap((own, i) => onAxisNotes(own, along, errors[i]!)),
    ...[...layouts].flatMap(([shape, layout]) => [...partedNotes(shape, layout, scope), ...unlikeNotes(shape)]),
  ];
}

/** Notes on shells that lose faces in files of single precision. */
function singlePrecisionNotes(placed: readonly Placed[]): Note[] {
  return placed.flatMap(({ shape, layout, shell, form, uv }) => {
    const lost = lostInSingle(form, uv);
    if (!lost) return [];
    const words = `${count(lost, "triangle")} of shell ${shell + 1} of ${shape.name} ${lost > 1 ? "are" : "is"} so small there that files of single precision lose ${lost > 1 ? "them" : "it"}: give the shell more room.`;
    return [{ words, shells: [{ shape: shape.id, face: shellName(structureOf(shape.mesh, layout), shell) }] }];
  });
}

/** A shell to be unfolded. */
interface ToUnfold extends ShapeShell {
  /** What it keeps to of the layout it has, where it does. */
  readonly keeping: Keeping | null;
}

/** A shell with its new points. */
interface Placed extends ToUnfold {
  readonly uv: Float64Array;
}

/** The shells that the scope means, as the solver takes them, with a note on picked ones that are pinned whole. */
function flattened(asset: Asset, scope: Scope, options: UnfoldInput): { work: ToUnfold[]; notes: Note[] } {
  const frozen: ShellRef[] = [];
  if (options.smoothed) refuseTooMany(shapesInScope(asset, scope), options.smoothed);
  const work = shellsInScope(asset, scope).flatMap(({ shape, layout, shells }) => {
    const { mesh } = shape;
    const form = options.smoothed ? { ...mesh, positions: smoothedVertices(mesh, options.smoothed) } : mesh;
    const world = worldPositions(form, shape.metric);
    const scratch = new Int32Array(structureOf(shape.mesh, layout).wedgeCount).fill(-1);
    const still = stillPoints(shape, layout, scope, options.what);
    const picked = options.weight === 1 ? null : pickedOf(shape, layout, scope, "faces", "contained");
    return [...shells].flatMap((shell) => {
      if (isFrozen(shape.mesh, layout, shell)) {
        const face = shellName(structureOf(shape.mesh, layout), shell);
        frozen.push({ shape: shape.id, face });
        return [];
      }
      const plain = shellMesh(shape.mesh, world, layout, shell, scratch);
      const form = picked ? { ...plain, weights: weightsOf(shape, layout, shell, picked, options.weight) } : plain;
      const own = { shape, layout, shell, form };
      return [{ ...own, keeping: keepingOf(own, still, options) }];
    });
  });
  if (!work.length && frozen.length)
    throw new UserError(
      frozen.length > 1
        ? "These shells are pinned whole: unpin them first."
        : "This shell is pinned whole: unpin it first.",
    );
  const words = `${count(frozen.length, "shell")} ${frozen.length > 1 ? "are" : "is"} pinned whole, and stay${frozen.length > 1 ? "" : "s"}.`;
  return { work, notes: frozen.length && scope.selection ? [{ words, shells: frozen, offer: unpin.id }] : [] };
}

/** What is picked, as flags of another kind of elements. @throws UserError where no less than shells is picked */
function pickedOf(
  { id, mesh }: PlacedShape,
  layout: Layout,
  { selection }: Scope,
  kind: "points" | "faces",
  how: "contained" | "touching",
): Uint8Array {
  if (!selection || selection.kind === "shells")
    throw new UserError("Pick faces, edges, vertices or UV points: with them the rest of their shells is told apart.");
  const flags = flagsAt(selection.items.get(id)!, elementCount(mesh, selection.kind));
  return converted(mesh, layout, selection.kind, flags, kind, how);
}

/** 1 for every wedge that stays where it is, besides pinned ones. */
function stillPoints(shape: PlacedShape, layout: Layout, scope: Scope, what: UnfoldInput["what"]): Uint8Array | null {
  if (what === "shells") return null;
  // What moves alone has nothing unpicked about it; what stays has anything picked about it.
  const points = pickedOf(shape, layout, scope, "points", what === "picked" ? "contained" : "touching");
  const s = structureOf(shape.mesh, layout);
  return Uint8Array.from(pointNames(s), (c) => (points[c] ? 1 : 0) ^ (what === "picked" ? 1 : 0));
}

/** What the stretch of each triangle of a shell counts: more or less on picked faces. */
function weightsOf({ mesh }: PlacedShape, layout: Layout, shell: Shell, picked: Uint8Array, weight: number) {
  const { faceStart } = trianglesOf(mesh);
  const faces = facesOfShell(structureOf(mesh, layout), shell);
  return Float64Array.from(
    [...faces].flatMap((f) => new Array<number>(faceStart[f + 1]! - faceStart[f]!).fill(picked[f] ? weight : 1)),
  );
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
async function unfolded(work: readonly ToUnfold[], options: UnfoldInput, set: UvSetId, context: EditContext) {
  const show = shownAsTheyCome(context, set);
  const { passes, overItself, lean } = options;
  // What weighs more on one side is not to be evened out.
  const symmetric = options.symmetric && options.weight === 1;
  const guided = work.filter((w) => w.keeping);
  const free = work.filter((w) => !w.keeping);
  const weigh = (list: readonly ToUnfold[]) => list.map((w) => w.form.triangles.length);
  const total = weigh(work).reduce((a, b) => a + b, 0) || 1;
  const share = weigh(free).reduce((a, b) => a + b, 0) / total;
  // What lays one of some twins flat lays all of them flat.
  const twins = firstTwins(free.map((w) => w.form));
  const single = free.filter((_, i) => twins[i] === i);
  const first = await spreadReached(
    "unfoldShell",
    single.map(({ form }) => ({ form, passes, overItself, lean, symmetric })),
    weigh(single),
    context,
    (done) => context.progress(done * share),
    (i, uv) => {
      const { shape, layout, shell, form } = single[i]!;
      // One that has no place yet is shown when it gets one.
      if (isMapped(shape.mesh, layout, shell))
        show(single[i]!, alignedLike(form.triangles, pointsOf(form, layout), uv));
    },
  );
  const second = first.stopped
    ? null
    : await spreadReached(
        "unfoldGuided",
        guided.map(({ form, layout, keeping }) => ({ form, passes, uv: pointsOf(form, layout), keeping: keeping! })),
        weigh(guided),
        context,
        (done) => context.progress(share + done * (1 - share)),
        (i, uv) => show(guided[i]!, uv),
      );
  const results = new Map(single.map((w, i) => [w, first.out[i]]));
  free.forEach((w, i) => {
    results.set(w, results.get(free[twins[i]!]!));
  });
  guided.forEach((w, i) => {
    results.set(w, second?.out[i]);
  });
  return { out: work.map((w) => results.get(w)), stopped: first.stopped ?? second?.stopped ?? null };
}

/** Lays shells that had no place beside what is there, at its density; alone, they fill most of the first tile. */
function parkFresh(asset: Asset, scope: Scope, fresh: readonly Placed[]): Placed[] {
  const placed = parkedBeside(
    asset,
    scope.set,
    shapesOf(asset).map((shape) => ({ shape, layout: layoutOf(shape, scope.set) })),
    fresh.map((f) => f.uv),
  );
  return fresh.map((f, i) => ({ ...f, uv: placed[i]! }));
}
