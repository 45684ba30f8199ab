import {
  type Asset,
  drawnParts,
  type PartId,
  placedShape,
  type ShapeId,
  shapesOf,
  type UvSetId,
} from "@/core/layout/asset";
import { facesOfShell, shellName, shellNamed, structureOf } from "@/core/layout/layout";
import type { Edge } from "@/core/mesh/indices";
import { topologyOf } from "@/core/mesh/topology";
import { worldPositions } from "@/core/mesh/transform";
import { edgeLoop, edgePath } from "@/core/mesh/walks";
import { iota } from "@/core/numeric/iota";
import type { Selection, SelectionKind } from "@/core/operations/operation";
import { layoutOf } from "@/core/operations/scope";
import { edgeLengths } from "@/core/seams/edge-cost";
import { type BenchState, countPicked, EMPTY, type Picked, type Selected, useBench } from "./store";

const get = () => useBench.getState();

/** Selections that can be stepped back to, and the elements they may hold together. */
const MOST_KEPT = 100;
const MOST_ELEMENTS = 2_000_000;

export const selectedNow = ({ kind, picked, asset }: BenchState): Selected => ({
  kind,
  picked,
  meshes: new Map(
    [...picked.keys()].flatMap((id) => (asset?.shapes.has(id) ? [[id, asset.shapes.get(id)!.mesh]] : [])),
  ),
});

/** The newest selections that may be kept. */
function within(list: readonly Selected[]): Selected[] {
  let elements = 0;
  const out: Selected[] = [];
  for (const selected of [...list].reverse().slice(0, MOST_KEPT)) {
    elements += countPicked(selected.picked);
    if (elements > MOST_ELEMENTS && out.length) break;
    out.unshift(selected);
  }
  return out;
}

/** Makes a selection, keeping the one before so that it can be stepped back to. */
export function select(kind: SelectionKind, picked: Picked, more: Partial<BenchState> = {}): void {
  const now = get();
  const same = kind === now.kind && samePicked(now.picked, picked);
  useBench.setState({
    kind,
    picked,
    preview: EMPTY,
    ...(same ? {} : { pickedBefore: within([...now.pickedBefore, selectedNow(now)]), pickedAfter: [] }),
    ...more,
  });
}

export function samePicked(a: Picked, b: Picked): boolean {
  if (a.size !== b.size) return false;
  for (const [id, s] of a) {
    const other = b.get(id);
    if (other?.size !== s.size) return false;
    for (const i of s) if (!other.has(i)) return false;
  }
  return true;
}

/** What of a selection still means the same elements: those of shapes with the same mesh, shells that are still there. */
export function stillThere(asset: Asset, set: UvSetId, { kind, picked, meshes }: Selected): Picked {
  const out = new Map<ShapeId, ReadonlySet<number>>();
  for (const [id, items] of picked) {
    const shape = asset.shapes.get(id);
    if (!shape || shape.mesh !== meshes.get(id)) continue;
    if (kind !== "shells") {
      out.set(id, items);
      continue;
    }
    const s = structureOf(shape.mesh, layoutOf(shape, set));
    const left = new Set([...items].filter((name) => shellNamed(s, name) !== null));
    if (left.size) out.set(id, left);
  }
  return out;
}

/** Steps through the selections alone; the document stays as it is. */
export function stepSelection(way: "back" | "forth"): void {
  const state = get();
  const { asset, set, pickedBefore, pickedAfter } = state;
  const from = way === "back" ? pickedBefore : pickedAfter;
  const to = from.at(-1);
  if (!asset || !to) return;
  const rest = from.slice(0, -1);
  const now = selectedNow(state);
  useBench.setState({
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
export function pick(shape: ShapeId, items: Iterable<number>, mode: PickMode): void {
  pickMany(new Map([[shape, new Set(items)]]), mode);
}

export function pickMany(items: Picked, mode: PickMode): void {
  const next = new Map<ShapeId, Set<number>>(
    mode === "replace" ? [] : [...get().picked].map(([id, s]) => [id, new Set(s)]),
  );
  for (const [shape, list] of items) {
    const own = next.get(shape) ?? new Set<number>();
    for (const i of list) {
      if (mode === "remove") own.delete(i);
      else own.add(i);
    }
    if (own.size) next.set(shape, own);
    else next.delete(shape);
  }
  select(get().kind, next, { rows: new Set() });
}

export const clearPicked = (): void => select(get().kind, EMPTY, { lastEdge: null, rows: new Set() });

/** Items of the kind being picked that some faces of a shape stand for. */
export function itemsOfFaces(
  asset: Asset,
  set: UvSetId,
  id: ShapeId,
  faces: Iterable<number>,
  kind: SelectionKind,
): Set<number> {
  const shape = placedShape(asset, id);
  const { mesh } = shape;
  const out = new Set<number>();
  const t = topologyOf(mesh);
  const s = kind === "shells" ? structureOf(mesh, layoutOf(shape, set)) : null;
  for (const f of faces) {
    if (kind === "faces") out.add(f);
    else if (s) out.add(shellName(s, s.faceShell[f]!));
    else
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
        out.add(kind === "edges" ? t.cornerEdge[c]! : mesh.cornerVertex[c]!);
  }
  return out;
}

/** Faces that picked items of a kind touch. */
export function facesOfItems(
  asset: Asset,
  set: UvSetId,
  id: ShapeId,
  items: ReadonlySet<number>,
  kind: SelectionKind,
): Set<number> {
  const shape = asset.shapes.get(id);
  if (!shape) return new Set();
  const { mesh } = shape;
  if (kind === "faces") return new Set(items);
  const out = new Set<number>();
  const t = topologyOf(mesh);
  if (kind === "shells") {
    const s = structureOf(mesh, layoutOf(shape, set));
    for (const name of items) {
      const shell = shellNamed(s, name);
      if (shell !== null) for (const f of facesOfShell(s, shell)) out.add(f);
    }
  } else if (kind === "edges") {
    for (const e of items)
      for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++) out.add(t.cornerFace[t.edgeCorners[k]!]!);
  } else {
    for (let c = 0; c < mesh.cornerVertex.length; c++) if (items.has(mesh.cornerVertex[c]!)) out.add(t.cornerFace[c]!);
  }
  return out;
}

/** Switches what is picked, taking the selection along by the faces it touches. */
export function setKind(kind: SelectionKind): void {
  const { asset, set, kind: before, picked } = get();
  if (!asset || kind === before) return;
  const next = new Map<ShapeId, ReadonlySet<number>>();
  for (const [shape, items] of picked) {
    const faces = facesOfItems(asset, set, shape, items, before);
    next.set(shape, itemsOfFaces(asset, set, shape, faces, kind));
  }
  select(kind, next, { hover: null, lastEdge: null });
}

/** A click on an item, with a path from the last edge or the whole loop when asked for. */
export function clickItem(shape: ShapeId, item: number, mode: PickMode, way: "single" | "path" | "loop"): void {
  const { asset, kind, lastEdge } = get();
  if (!asset) return;
  if (kind !== "edges" || way === "single") pick(shape, [item], mode);
  else if (way === "loop") pick(shape, edgeLoop(placedShape(asset, shape).mesh, item as Edge), mode);
  else if (lastEdge?.shape === shape) pick(shape, pathBetween(shape, lastEdge.edge, item), "add");
  else pick(shape, [item], "add");
  if (kind === "edges" && mode !== "remove") useBench.setState({ lastEdge: { shape, edge: item } });
}

export function pathBetween(id: ShapeId, from: number, to: number): Uint32Array {
  const { mesh, metric } = placedShape(get().asset!, id);
  return edgePath(mesh, edgeLengths(mesh, worldPositions(mesh, metric)), from as Edge, to as Edge);
}

/** Shows the path a click would take. */
export function previewPath(shape: ShapeId, item: number): void {
  const { kind, lastEdge } = get();
  if (kind !== "edges" || lastEdge?.shape !== shape) return;
  useBench.setState({ preview: new Map([[shape, new Set(pathBetween(shape, lastEdge.edge, item))]]) });
}

/** Everything visible, in the kind being picked. */
export function pickAll(): void {
  const { asset, set, kind, hidden } = get();
  if (!asset) return;
  const next = new Map<ShapeId, ReadonlySet<number>>();
  for (const shape of shapesOf(asset)) {
    if (shape.parts.every((p) => hidden.has(p.id))) continue;
    next.set(shape.id, itemsOfFaces(asset, set, shape.id, iota(shape.mesh.faceStart.length - 1), kind));
  }
  select(kind, next, { rows: new Set() });
}

/** Picks parts as such, with what they hold in the kind that is being picked. */
export function selectParts(parts: ReadonlySet<PartId>): void {
  const { asset, set, kind } = get();
  if (!asset) return;
  const picked = new Map<ShapeId, ReadonlySet<number>>();
  for (const part of drawnParts(asset))
    if (parts.has(part.id) && !picked.has(part.shape))
      picked.set(part.shape, itemsOfFaces(asset, set, part.shape, iota(part.mesh.faceStart.length - 1), kind));
  select(kind, picked, { rows: parts, lastEdge: null });
}

/** Shows only the given parts; done again while just those are shown, brings the others back. */
export function isolate(parts: ReadonlySet<PartId>): void {
  const { asset, hidden, hiddenBefore } = get();
  if (!asset || !parts.size) return;
  const others = new Set(asset.parts.filter((p) => !parts.has(p.id)).map((p) => p.id));
  const same = others.size === hidden.size && [...others].every((id) => hidden.has(id));
  if (same) useBench.setState({ hidden: hiddenBefore ?? new Set(), hiddenBefore: null });
  // From one isolated part to another: what was hidden before either is what comes back.
  else useBench.setState({ hidden: others, hiddenBefore: hiddenBefore ?? hidden });
}

/** Hides or shows parts; what is picked on hidden ones is let go. */
export function setHidden(parts: readonly PartId[], hide: boolean): void {
  const next = new Set(get().hidden);
  for (const id of parts) {
    if (hide) next.add(id);
    else next.delete(id);
  }
  const { asset } = get();
  const shown = new Set(asset?.parts.filter((p) => !next.has(p.id)).map((p) => p.shape));
  const picked = new Map([...get().picked].filter(([id]) => shown.has(id)));
  const rows = new Set([...get().rows].filter((id) => !next.has(id)));
  useBench.setState({ hidden: next, picked, rows, hiddenBefore: null });
}

/** Hides the parts that are picked; with nothing picked shows all. */
export function toggleHiddenPicked(): void {
  const { asset, picked, rows, hidden } = get();
  const touched = asset?.parts.filter((p) => picked.has(p.shape)).map((p) => p.id) ?? [];
  const parts = rows.size ? rows : new Set(touched);
  select(get().kind, EMPTY, {
    hidden: parts.size ? new Set([...hidden, ...parts]) : new Set(),
    hiddenBefore: null,
    rows: new Set(),
  });
}

export const frameSelection = (): void =>
  useBench.setState({ frame: { what: "selection", count: get().frame.count + 1 } });
export const frameAll = (): void => useBench.setState({ frame: { what: "all", count: get().frame.count + 1 } });

/** What an operation says is to be picked, as it is kept here. */
export const pickedOf = (s: Selection): Picked => new Map([...s.items].map(([id, items]) => [id, new Set(items)]));
