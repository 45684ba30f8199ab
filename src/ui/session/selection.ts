import {
  type Asset,
  drawnParts,
  type PartId,
  placedShape,
  type ShapeId,
  shapesOf,
  type UvSetId,
} from "@/core/layout/asset";
import { type ShellRef, type Structure, shellNamed, structureOf } from "@/core/layout/layout";
import { pointNames } from "@/core/layout/point-names";
import type { Edge } from "@/core/mesh/indices";
import { edgeLoop } from "@/core/mesh/loops";
import { trianglesOf } from "@/core/mesh/triangulate";
import type { Acts, Note, Selection, SelectionKind } from "@/core/operations/operation";
import { layoutOf } from "@/core/operations/scope";
import { pathBetweenEdges } from "@/core/seams/path-ways";
import { ElementSet } from "@/core/select/element-set";
import { elementCount } from "@/core/select/grow";
import { allElements, elementsOfFaces, facesOfElements } from "@/core/select/stand-for";
import { withImages } from "./mirror-images";
import { type Bench, type BenchState, EMPTY, type Picked, type Selected } from "./store";

/** Selections that can be stepped back to. What they have in common they share: each costs what it changed. */
const MOST_KEPT = 100;

export const selectedNow = ({ kind, picked, asset }: BenchState): Selected => ({
  kind,
  picked,
  meshes: new Map(
    [...picked.keys()].flatMap((id) => (asset?.shapes.has(id) ? [[id, asset.shapes.get(id)!.mesh]] : [])),
  ),
});

/** Makes a selection, keeping the one before so that it can be stepped back to. */
export function select(bench: Bench, kind: SelectionKind, picked: Picked, more: Partial<BenchState> = {}): void {
  const now = bench.getState();
  const same = kind === now.kind && samePicked(now.picked, picked);
  bench.setState({
    kind,
    picked,
    preview: EMPTY,
    ...(same ? {} : { pickedBefore: [...now.pickedBefore, selectedNow(now)].slice(-MOST_KEPT), pickedAfter: [] }),
    ...more,
  });
}

export function samePicked(a: Picked, b: Picked): boolean {
  if (a.size !== b.size) return false;
  for (const [id, items] of a) if (!b.get(id)?.same(items)) return false;
  return true;
}

/** What of a selection still means the same elements: those of shapes with the same mesh, shells that are still there. */
export function stillThere(asset: Asset, set: UvSetId, { kind, picked, meshes }: Selected): Picked {
  const out = new Map<ShapeId, ElementSet>();
  for (const [id, items] of picked) {
    const shape = asset.shapes.get(id);
    if (!shape || shape.mesh !== meshes.get(id)) continue;
    if (kind !== "shells" && kind !== "points") {
      out.set(id, items);
      continue;
    }
    const s = structureOf(shape.mesh, layoutOf(shape, set));
    if (kind === "points") {
      out.set(id, pointsOfNow(s, items));
      continue;
    }
    const left = items.without(items.items().filter((name) => shellNamed(s, name) === null));
    if (left.size) out.set(id, left);
  }
  return out;
}

/** UV points as they are named now: a seam that was cut or joined has parted or united some. */
function pointsOfNow(s: Structure, items: ElementSet): ElementSet {
  const names = pointNames(s);
  const now = (c: number) => names[s.cornerWedge[c]!]!;
  const stale = items.items().filter((c) => now(c) !== c);
  return stale.length ? items.without(stale).with(stale.map(now)) : items;
}

/** Steps through the selections alone; the document stays as it is. */
export function stepSelection(bench: Bench, way: "back" | "forth"): void {
  const state = bench.getState();
  const { asset, set, pickedBefore, pickedAfter } = state;
  const from = way === "back" ? pickedBefore : pickedAfter;
  const to = from.at(-1);
  if (!asset || !to) return;
  const rest = from.slice(0, -1);
  const now = selectedNow(state);
  bench.setState({
    kind: to.kind,
    picked: stillThere(asset, set, to),
    preview: EMPTY,
    lastEdge: null,
    rows: new Set(),
    ...(way === "back"
      ? { pickedBefore: rest, pickedAfter: [...pickedAfter, now] }
      : { pickedAfter: rest, pickedBefore: [...pickedBefore, now] }),
  });
}

export type PickMode = "replace" | "add" | "remove";

/** Changes the selection by items of one shape. */
export function pick(bench: Bench, shape: ShapeId, items: Iterable<number>, mode: PickMode): void {
  pickMany(bench, new Map([[shape, items]]), mode);
}

type Items = ReadonlyMap<ShapeId, Iterable<number>>;

function withItems(state: BenchState, items: Items, mode: PickMode): Picked {
  const { asset, kind, picked } = state;
  const next = new Map(mode === "replace" ? [] : picked);
  for (const [id, given] of items) {
    const list = withImages(state, id, given);
    const before = next.get(id) ?? ElementSet.none(elementCount(placedShape(asset!, id).mesh, kind));
    const own = mode === "remove" ? before.without(list) : before.with(list);
    if (own.size) next.set(id, own);
    else next.delete(id);
  }
  return next;
}

export function pickMany(bench: Bench, items: Items, mode: PickMode): void {
  const state = bench.getState();
  select(bench, state.kind, withItems(state, items, mode), { rows: new Set() });
}

/** A selection that is made bit by bit, and is one step of its history; or is taken back, and is none. */
export interface Stroke {
  pick(items: Items, mode: PickMode): void;
  end(): void;
  drop(): void;
}

export function beginStroke(bench: Bench): Stroke {
  const before = bench.getState();
  return {
    pick: (items, mode) => bench.setState((s) => ({ picked: withItems(s, items, mode), rows: new Set() })),
    end() {
      const { kind, picked } = bench.getState();
      // Selecting keeps what was picked when the stroke began, not what it had come to.
      bench.setState({ picked: before.picked });
      select(bench, kind, picked);
    },
    drop() {
      // Of another document the same numbers mean other elements.
      if (bench.getState().asset === before.asset) bench.setState({ picked: before.picked, rows: before.rows });
    },
  };
}

/** Picks shells by their names. */
export function pickShells(bench: Bench, shells: readonly ShellRef[], mode: PickMode): void {
  setKind(bench, "shells");
  const items = new Map<ShapeId, number[]>();
  for (const { shape, face } of shells) {
    const own = items.get(shape);
    if (own) own.push(face);
    else items.set(shape, [face]);
  }
  pickMany(bench, items, mode);
}

/** Picks shells and frames them. */
export function lookAtShells(bench: Bench, shells: readonly ShellRef[]): void {
  pickShells(bench, shells, "replace");
  frameSelection(bench);
}

/** Picks what a note is about, and frames it: the edges that are the reason, else its shells. */
export function lookAtNote(bench: Bench, { edges, shells }: Note): void {
  if (!edges) {
    lookAtShells(bench, shells);
    return;
  }
  setKind(bench, "edges");
  pick(bench, edges.shape, edges.edges, "replace");
  frameSelection(bench);
}

/** Picks what notes are about, as what helps takes it: their edges, or their shells. */
export function lookAtNotes(bench: Bench, notes: readonly Note[], acts: Acts): void {
  if (acts !== "edges") {
    lookAtShells(
      bench,
      notes.flatMap((n) => n.shells),
    );
    return;
  }
  setKind(bench, "edges");
  const items = new Map<ShapeId, number[]>();
  for (const { edges } of notes) if (edges) items.set(edges.shape, [...(items.get(edges.shape) ?? []), ...edges.edges]);
  pickMany(bench, items, "replace");
}

/** Picks the face that a triangle is of, and frames it. */
export function lookAtWorst(bench: Bench, { shape, triangle }: { shape: ShapeId; triangle: number }): void {
  const { asset } = bench.getState();
  if (!asset?.shapes.has(shape)) return;
  setKind(bench, "faces");
  pick(bench, shape, [trianglesOf(asset.shapes.get(shape)!.mesh).face[triangle]!], "replace");
  frameSelection(bench);
}

export const clearPicked = (bench: Bench): void =>
  select(bench, bench.getState().kind, EMPTY, { lastEdge: null, rows: new Set() });

/** What picked items of a shape are in another kind: the items of the faces that they touch. */
export function picksAs(
  asset: Asset,
  set: UvSetId,
  id: ShapeId,
  items: ElementSet,
  kind: SelectionKind,
  other: SelectionKind,
): ElementSet {
  if (kind === other) return items;
  const shape = placedShape(asset, id);
  const layout = layoutOf(shape, set);
  return elementsOfFaces(shape.mesh, layout, facesOfElements(shape.mesh, layout, items, kind), other);
}

/** Has whole parts picked from now on, by any of their faces. */
export function pickWholeParts(bench: Bench): void {
  setKind(bench, "faces");
  bench.setState({ wholeParts: true });
}

/** Picks parts as such; what of a selection of parts is there already is added to, or taken from. */
export function pickParts(bench: Bench, parts: Iterable<PartId>, mode: PickMode): void {
  const next = new Set(mode === "replace" ? [] : bench.getState().rows);
  for (const part of parts) {
    if (mode === "remove") next.delete(part);
    else next.add(part);
  }
  selectParts(bench, next);
}

/** Switches what is picked, taking the selection along by the faces it touches. */
export function setKind(bench: Bench, kind: SelectionKind): void {
  const { asset, set, kind: before, picked, wholeParts } = bench.getState();
  if (wholeParts) bench.setState({ wholeParts: false });
  if (!asset || kind === before) return;
  const next = new Map<ShapeId, ElementSet>();
  for (const [id, items] of picked) {
    const own = picksAs(asset, set, id, items, before, kind);
    if (own.size) next.set(id, own);
  }
  select(bench, kind, next, { hover: null, lastEdge: null });
}

/** A click on an item, with a path from the last edge or the whole loop when asked for. */
export function clickItem(
  bench: Bench,
  shape: ShapeId,
  item: number,
  mode: PickMode,
  way: "single" | "path" | "loop",
): void {
  const { asset, kind, lastEdge } = bench.getState();
  if (!asset) return;
  if (kind !== "edges" || way === "single") pick(bench, shape, [item], mode);
  else if (way === "loop") pick(bench, shape, edgeLoop(placedShape(asset, shape).mesh, item as Edge), mode);
  else if (lastEdge?.shape === shape) pick(bench, shape, pathBetween(bench, shape, lastEdge.edge, item), "add");
  else pick(bench, shape, [item], "add");
  if (kind === "edges" && mode !== "remove") bench.setState({ lastEdge: { shape, edge: item } });
}

export function pathBetween(bench: Bench, id: ShapeId, from: number, to: number): Uint32Array {
  return pathBetweenEdges(placedShape(bench.getState().asset!, id), from as Edge, to as Edge);
}

/** Shows the path a click would take. */
export function previewPath(bench: Bench, shape: ShapeId, item: number): void {
  const { kind, lastEdge } = bench.getState();
  if (kind !== "edges" || lastEdge?.shape !== shape) return;
  const { asset } = bench.getState();
  const edges = elementCount(placedShape(asset!, shape).mesh, "edges");
  bench.setState({ preview: new Map([[shape, ElementSet.of(edges, pathBetween(bench, shape, lastEdge.edge, item))]]) });
}

/** Everything visible, in some kind. */
export function allPicked({ asset, set, hidden, alone }: BenchState, kind: SelectionKind): Picked {
  const next = new Map<ShapeId, ElementSet>();
  for (const shape of asset ? shapesOf(asset) : []) {
    if (shape.parts.every((p) => hidden.has(p.id))) continue;
    const all = inView({ alone, kind }, shape.id, allElements(shape.mesh, layoutOf(shape, set), kind));
    if (all.size) next.set(shape.id, all);
  }
  return next;
}

/** Picks everything visible, in the kind being picked. */
export function pickAll(bench: Bench): void {
  const state = bench.getState();
  if (state.asset) select(bench, state.kind, allPicked(state, state.kind), { rows: new Set() });
}

/** Picks parts as such, with what they hold in the kind that is being picked. */
export function selectParts(bench: Bench, parts: ReadonlySet<PartId>): void {
  const { asset, set, kind } = bench.getState();
  if (!asset) return;
  const picked = new Map<ShapeId, ElementSet>();
  for (const part of drawnParts(asset)) {
    if (!parts.has(part.id) || picked.has(part.shape)) continue;
    const all = allElements(part.mesh, layoutOf(part, set), kind);
    if (all.size) picked.set(part.shape, all);
  }
  select(bench, kind, picked, { rows: parts, lastEdge: null });
}

/** Shows only the given parts; done again while just those are shown, brings the others back. */
export function isolate(bench: Bench, parts: ReadonlySet<PartId>): void {
  const { asset, hidden, hiddenBefore } = bench.getState();
  if (!asset || !parts.size) return;
  const others = new Set(asset.parts.filter((p) => !parts.has(p.id)).map((p) => p.id));
  const same = others.size === hidden.size && [...others].every((id) => hidden.has(id));
  if (same) bench.setState({ hidden: hiddenBefore ?? new Set(), hiddenBefore: null });
  // From one isolated part to another: what was hidden before either is what comes back.
  else bench.setState({ hidden: others, hiddenBefore: hiddenBefore ?? hidden });
}

/** Shows only what is picked: faces and shells by themselves, else whole parts; done again, brings the rest back. */
export function isolatePicked(bench: Bench): void {
  const { asset, set, kind, picked, rows, alone, hidden, hiddenBefore } = bench.getState();
  if (!asset) return;
  if (alone) {
    const shown = { alone: null, hiddenMaterials: new Set<string>() };
    bench.setState({ ...shown, hidden: hiddenBefore ?? hidden, hiddenBefore: null });
    return;
  }
  const touched = asset.parts.filter((p) => picked.has(p.shape)).map((p) => p.id);
  if (rows.size || !touched.length || (kind !== "faces" && kind !== "shells")) {
    isolate(bench, rows.size ? rows : new Set(touched));
    return;
  }
  const faces = new Map([...picked].map(([id, items]) => [id, picksAs(asset, set, id, items, kind, "faces")] as const));
  const others = new Set(asset.parts.filter((p) => !picked.has(p.shape)).map((p) => p.id));
  bench.setState({ alone: faces, hidden: others, hiddenBefore: hiddenBefore ?? hidden });
}

/** Of some items of a shape those that are in view: of faces and shells, while some are isolated, only these. */
export function inView(
  { alone, kind }: Pick<BenchState, "alone" | "kind">,
  id: ShapeId,
  items: ElementSet,
): ElementSet {
  const shown = alone?.get(id);
  if (!shown || (kind !== "faces" && kind !== "shells")) return items;
  return items.without(items.items().filter((i) => !shown.has(i)));
}

/** Hides or shows parts; what is picked on hidden ones is let go. */
export function setHidden(bench: Bench, parts: readonly PartId[], hide: boolean): void {
  const next = new Set(bench.getState().hidden);
  for (const id of parts) {
    if (hide) next.add(id);
    else next.delete(id);
  }
  const { asset } = bench.getState();
  const shown = new Set(asset?.parts.filter((p) => !next.has(p.id)).map((p) => p.shape));
  const picked = new Map([...bench.getState().picked].filter(([id]) => shown.has(id)));
  const rows = new Set([...bench.getState().rows].filter((id) => !next.has(id)));
  bench.setState({ hidden: next, picked, rows, hiddenBefore: null });
}

/** Hides the parts that are picked; with nothing picked shows all. */
export function toggleHiddenPicked(bench: Bench): void {
  const { asset, picked, rows, hidden } = bench.getState();
  const touched = asset?.parts.filter((p) => picked.has(p.shape)).map((p) => p.id) ?? [];
  const parts = rows.size ? rows : new Set(touched);
  select(bench, bench.getState().kind, EMPTY, {
    hidden: parts.size ? new Set([...hidden, ...parts]) : new Set(),
    hiddenBefore: null,
    rows: new Set(),
  });
}

export const frameSelection = (bench: Bench): void =>
  bench.setState({ frame: { what: "selection", count: bench.getState().frame.count + 1 } });
export const frameAll = (bench: Bench): void =>
  bench.setState({ frame: { what: "all", count: bench.getState().frame.count + 1 } });

/** What an operation says is to be picked, as it is kept here. */
export function pickedOf(asset: Asset, { kind, items }: Selection): Picked {
  const out = new Map<ShapeId, ElementSet>();
  for (const [id, list] of items)
    if (list.length) out.set(id, ElementSet.of(elementCount(placedShape(asset, id).mesh, kind), list));
  return out;
}
