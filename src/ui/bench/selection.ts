import { type Asset, type PartId, partById } from "@/core/layout/asset";
import { facesOfShell, structureOf } from "@/core/layout/uv-set";
import { topologyOf } from "@/core/mesh/topology";
import { worldPositions } from "@/core/mesh/transform";
import { edgeLoop, edgePath } from "@/core/mesh/walks";
import type { SelectionKind } from "@/core/operations/operation";
import { layoutOf } from "@/core/operations/scope";
import { edgeLengths } from "@/core/seams/edge-cost";
import { type BenchState, EMPTY, type Picked, useBench } from "./store";

const get = () => useBench.getState();

/** Selections that can be stepped back to. */
const MOST_KEPT = 100;

/** Makes a selection, keeping the one before so that it can be stepped back to. */
export function select(kind: SelectionKind, picked: Picked, more: Partial<BenchState> = {}): void {
  const { kind: oldKind, picked: old, pickedBefore } = get();
  const same = kind === oldKind && samePicked(old, picked);
  useBench.setState({
    kind,
    picked,
    preview: EMPTY,
    ...(same
      ? {}
      : { pickedBefore: [...pickedBefore, { kind: oldKind, picked: old }].slice(-MOST_KEPT), pickedAfter: [] }),
    ...more,
  });
}

const samePicked = (a: Picked, b: Picked): boolean =>
  a.size === b.size &&
  [...a].every(([id, s]) => {
    const other = b.get(id);
    return other?.size === s.size && [...s].every((i) => other.has(i));
  });

/** Steps through the selections alone; the document stays as it is. */
export function stepSelection(way: "back" | "forth"): void {
  const { asset, kind, picked, pickedBefore, pickedAfter } = get();
  const from = way === "back" ? pickedBefore : pickedAfter;
  const to = from.at(-1);
  if (!asset || !to) return;
  const rest = from.slice(0, -1);
  const now = { kind, picked };
  const there = new Set(asset.parts.map((p) => p.id));
  useBench.setState({
    kind: to.kind,
    picked: new Map([...to.picked].filter(([id]) => there.has(id))),
    preview: EMPTY,
    lastEdge: null,
    rows: new Set(),
    ...(way === "back"
      ? { pickedBefore: rest, pickedAfter: [...pickedAfter, now] }
      : { pickedAfter: rest, pickedBefore: [...pickedBefore, now] }),
  });
}

export type PickMode = "replace" | "add" | "remove";

/** Changes the selection by items of one part. */
export function pick(part: PartId, items: Iterable<number>, mode: PickMode): void {
  pickMany(new Map([[part, new Set(items)]]), mode);
}

export function pickMany(items: Picked, mode: PickMode): void {
  const next = new Map<PartId, Set<number>>(
    mode === "replace" ? [] : [...get().picked].map(([id, s]) => [id, new Set(s)]),
  );
  for (const [part, list] of items) {
    const own = next.get(part) ?? new Set<number>();
    for (const i of list) {
      if (mode === "remove") own.delete(i);
      else own.add(i);
    }
    if (own.size) next.set(part, own);
    else next.delete(part);
  }
  select(get().kind, next, { rows: new Set() });
}

export const clearPicked = (): void => select(get().kind, EMPTY, { lastEdge: null, rows: new Set() });

/** Items of the kind being picked that a face stands for. */
export function itemsOfFaces(
  asset: Asset,
  set: number,
  part: PartId,
  faces: Iterable<number>,
  kind: SelectionKind,
): Set<number> {
  const { mesh, ...rest } = partById(asset, part);
  const out = new Set<number>();
  const t = topologyOf(mesh);
  const s = kind === "shells" ? structureOf(mesh, layoutOf({ mesh, ...rest }, set)) : null;
  for (const f of faces) {
    if (kind === "faces") out.add(f);
    else if (s) out.add(s.faceShell[f]!);
    else
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
        out.add(kind === "edges" ? t.cornerEdge[c]! : mesh.cornerVertex[c]!);
  }
  return out;
}

/** Faces that picked items of a kind touch. */
export function facesOfItems(
  asset: Asset,
  set: number,
  part: PartId,
  items: ReadonlySet<number>,
  kind: SelectionKind,
): Set<number> {
  const owner = partById(asset, part);
  const { mesh } = owner;
  if (kind === "faces") return new Set(items);
  const out = new Set<number>();
  const t = topologyOf(mesh);
  if (kind === "shells") {
    const s = structureOf(mesh, layoutOf(owner, set));
    for (const shell of items) if (shell < s.shellCount) for (const f of facesOfShell(s, shell)) out.add(f);
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
  const next = new Map<PartId, ReadonlySet<number>>();
  for (const [part, items] of picked) {
    const faces = facesOfItems(asset, set, part, items, before);
    next.set(part, itemsOfFaces(asset, set, part, faces, kind));
  }
  select(kind, next, { hover: null, lastEdge: null });
}

/** A click on an item, with a path from the last edge or the whole loop when asked for. */
export function clickItem(part: PartId, item: number, mode: PickMode, way: "single" | "path" | "loop"): void {
  const { asset, kind, lastEdge } = get();
  if (!asset) return;
  if (kind !== "edges" || way === "single") pick(part, [item], mode);
  else if (way === "loop") pick(part, edgeLoop(partById(asset, part).mesh, item), mode);
  else if (lastEdge?.part === part) pick(part, pathBetween(part, lastEdge.edge, item), "add");
  else pick(part, [item], "add");
  if (kind === "edges" && mode !== "remove") useBench.setState({ lastEdge: { part, edge: item } });
}

export function pathBetween(part: PartId, from: number, to: number): Uint32Array {
  const { mesh, transform } = partById(get().asset!, part);
  return edgePath(mesh, edgeLengths(mesh, worldPositions(mesh, transform)), from, to);
}

/** Shows the path a click would take. */
export function previewPath(part: PartId, item: number): void {
  const { kind, lastEdge } = get();
  if (kind !== "edges" || lastEdge?.part !== part) return;
  useBench.setState({ preview: new Map([[part, new Set(pathBetween(part, lastEdge.edge, item))]]) });
}

/** Everything visible, in the kind being picked. */
export function pickAll(): void {
  const { asset, set, kind, hidden } = get();
  if (!asset) return;
  const next = new Map<PartId, ReadonlySet<number>>();
  for (const part of asset.parts) {
    if (part.instanceOf !== undefined || hidden.has(part.id)) continue;
    const faces = Array.from({ length: part.mesh.faceStart.length - 1 }, (_, f) => f);
    next.set(part.id, itemsOfFaces(asset, set, part.id, faces, kind));
  }
  select(kind, next, { rows: new Set() });
}

/** Shows only the given parts; done again with the same ones, brings the others back. */
export function isolate(parts: ReadonlySet<PartId>): void {
  const { asset, hidden, hiddenBefore } = get();
  if (!asset || !parts.size) return;
  if (hiddenBefore) {
    useBench.setState({ hidden: hiddenBefore, hiddenBefore: null });
    return;
  }
  useBench.setState({
    hidden: new Set(asset.parts.filter((p) => !parts.has(p.id)).map((p) => p.id)),
    hiddenBefore: hidden,
  });
}

/** Hides or shows parts; what is picked on hidden ones is let go. */
export function setHidden(parts: readonly PartId[], hide: boolean): void {
  const next = new Set(get().hidden);
  for (const id of parts) {
    if (hide) next.add(id);
    else next.delete(id);
  }
  const picked = new Map([...get().picked].filter(([id]) => !next.has(id)));
  const rows = new Set([...get().rows].filter((id) => !next.has(id)));
  useBench.setState({ hidden: next, picked, rows, hiddenBefore: null });
}

/** Hides the parts that are picked; with nothing picked shows all. */
export function toggleHiddenPicked(): void {
  const { picked, rows, hidden } = get();
  const parts = rows.size ? rows : new Set(picked.keys());
  select(get().kind, EMPTY, {
    hidden: parts.size ? new Set([...hidden, ...parts]) : new Set(),
    hiddenBefore: null,
    rows: new Set(),
  });
}

export const frameSelection = (): void =>
  useBench.setState({ frame: { what: "selection", count: get().frame.count + 1 } });
export const frameAll = (): void => useBench.setState({ frame: { what: "all", count: get().frame.count + 1 } });
