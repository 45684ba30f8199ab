import type { Edge } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { transformPoints } from "../mesh/transform";
import { PointGrid } from "../numeric/point-grid";
import { type Asset, type LayoutChange, type Shape, type ShapeId, shapesOf, type UvSetId, withLayouts } from "./asset";
import { type Bits, getBit, makeBits, setBit } from "./bits";
import { emptyLayout, withBits } from "./layout";
import { itemsOfRuns, runsOf } from "./named-selection";
import type { SeamLock } from "./seam-lock";

/** The edges of a shape that a lock holds, ascending. */
export function edgesOfLock(lock: SeamLock, shape: Pick<Shape, "id" | "mesh">): Uint32Array {
  const own = lock.shapes.find((s) => s.shape === shape.id);
  return own ? itemsOfRuns(own.runs, topologyOf(shape.mesh).edgeCount) : new Uint32Array(0);
}

/** A bit for every edge of a shape that is locked in a UV set; null where none is. */
export function lockedEdges(asset: Asset, set: UvSetId, shape: Pick<Shape, "id" | "mesh">): Bits | null {
  let bits: Bits | null = null;
  for (const lock of asset.seamLocks) {
    if (lock.set !== set) continue;
    const edges = edgesOfLock(lock, shape);
    if (!edges.length) continue;
    bits ??= makeBits(topologyOf(shape.mesh).edgeCount);
    for (const e of edges) setBit(bits, e);
  }
  return bits;
}

/** Why any of some edges of a shape are locked in a UV set. */
export function lockReasons(
  asset: Asset,
  set: UvSetId,
  shape: Pick<Shape, "id" | "mesh">,
  edges: ArrayLike<number>,
): string[] {
  const meant = new Set(Array.from(edges));
  return asset.seamLocks
    .filter((lock) => lock.set === set && edgesOfLock(lock, shape).some((e) => meant.has(e)))
    .map((lock) => lock.reason);
}

/** The lock with other edges; those of no edge at all are left out. */
export function lockOf(
  { reason, set }: Pick<SeamLock, "reason" | "set">,
  edges: ReadonlyMap<ShapeId, Uint32Array>,
): SeamLock | null {
  const shapes = [...edges].filter(([, own]) => own.length).map(([shape, own]) => ({ shape, runs: runsOf(own) }));
  return shapes.length ? { reason, set, shapes } : null;
}

/** The edges of a lock by shape, of the shapes that are there. */
export const edgesByShape = (asset: Asset, lock: SeamLock): Map<ShapeId, Uint32Array> =>
  new Map(
    lock.shapes.flatMap(({ shape: id }) => {
      const shape = asset.shapes.get(id);
      return shape ? [[id, edgesOfLock(lock, shape)] as const] : [];
    }),
  );

export interface HeldSeams {
  readonly asset: Asset;
  /** Locked edges that an edit would have joined: they are cut as before. */
  readonly restored: number;
  /** Locked edges that the new meshes do not have. */
  readonly lost: number;
}

/**
 * Brings the locks of an asset over to what an edit made of it: locked seams that were joined are cut again, without
 * moving anything, and where meshes are others, edges are found again by the places of their ends in the world.
 */
export function withHeldSeams(before: Asset, after: Asset): HeldSeams {
  if (!before.seamLocks.length && !after.seamLocks.length) return { asset: after, restored: 0, lost: 0 };
  const carried = after.seamLocks === before.seamLocks ? carriedLocks(before, after) : { asset: after, lost: 0 };
  let restored = 0;
  const changes: LayoutChange[] = [];
  const { asset } = carried;
  for (const set of new Set(asset.seamLocks.map((lock) => lock.set)))
    for (const shape of asset.shapes.values()) {
      const locked = lockedEdges(asset, set, shape);
      if (!locked) continue;
      const layout = shape.layouts.get(set) ?? emptyLayout(shape.mesh);
      const t = topologyOf(shape.mesh);
      const cut = layout.cut.slice();
      let added = 0;
      for (let e = 0 as Edge; e < t.edgeCount; e++) {
        // An edge that has become a border waits for its other side to come back.
        if (!getBit(locked, e) || getBit(cut, e) || edgeFaceCount(t, e) !== 2) continue;
        setBit(cut, e);
        added++;
      }
      restored += added;
      if (added) changes.push({ shape: shape.id, set, layout: withBits(shape.mesh, layout, cut) });
    }
  return { asset: withLayouts(asset, changes), restored, lost: carried.lost };
}

/** Of the size of an asset: how far an end of an edge may lie from where it was, to be the same. */
const SAME_PLACE = 1e-5;

function carriedLocks(before: Asset, after: Asset): { asset: Asset; lost: number } {
  const sets = new Set(after.sets.map((s) => s.id));
  const stays = (id: ShapeId) => after.shapes.get(id)?.mesh === before.shapes.get(id)?.mesh;
  const locks = before.seamLocks.filter((lock) => sets.has(lock.set));
  if (locks.length === before.seamLocks.length && locks.every((lock) => lock.shapes.every((s) => stays(s.shape))))
    return { asset: after, lost: 0 };
  const others = shapesOf(after).filter((s) => !before.shapes.has(s.id) || !stays(s.id));
  let lost = 0;
  const next = locks.flatMap((lock) => {
    const edges = new Map<ShapeId, Uint32Array>();
    const gone: EdgePlaces = { ends: [], size: 0 };
    for (const [id, own] of edgesByShape(before, lock))
      if (stays(id)) edges.set(id, own);
      else addPlaces(before, id, own, gone);
    const found = foundAgain(gone, others, lock.set);
    for (const [id, own] of found.edges) edges.set(id, own);
    lost += found.lost;
    const now = lockOf(lock, edges);
    return now ? [now] : [];
  });
  return { asset: { ...after, seamLocks: next }, lost };
}

/** Edges by the places of their two ends. */
interface EdgePlaces {
  /** 6 per edge, world space. */
  readonly ends: number[];
  /** Of what they are part of, in the same units. */
  size: number;
}

function addPlaces(asset: Asset, id: ShapeId, edges: Uint32Array, out: EdgePlaces): void {
  const shape = shapesOf(asset).find((s) => s.id === id)!;
  const { edgeVertices } = topologyOf(shape.mesh);
  for (const { transform } of shape.parts) {
    const world = transformPoints(transform, shape.mesh.positions);
    for (const x of world) out.size = Math.max(out.size, Math.abs(x));
    for (const e of edges)
      for (const v of [edgeVertices[2 * e]!, edgeVertices[2 * e + 1]!])
        out.ends.push(world[3 * v]!, world[3 * v + 1]!, world[3 * v + 2]!);
  }
}

/**
 * Edges of other meshes whose ends lie where those of some edges lay. Where several edges lie in one place, those that
 * are seams are meant.
 */
function foundAgain(
  { ends, size }: EdgePlaces,
  shapes: ReturnType<typeof shapesOf>,
  set: UvSetId,
): { edges: Map<ShapeId, Uint32Array>; lost: number } {
  const places = new Places(Float64Array.from(ends), SAME_PLACE * size);
  const wanted = new Map<number, Array<{ shape: ShapeId; edge: number; isSeam: boolean }>>();
  for (let i = 0; i < ends.length / 6; i++) wanted.set(places.pair(places.same[2 * i]!, places.same[2 * i + 1]!), []);
  if (wanted.size)
    for (const { id, mesh, parts, layouts } of shapes) {
      const cut = layouts.get(set)?.cut;
      for (const { transform } of parts)
        for (const [edge, key] of pairsOf(mesh, transformPoints(transform, mesh.positions), places))
          wanted.get(key)?.push({ shape: id, edge, isSeam: !!cut && getBit(cut, edge) });
    }
  const edges = new Map<ShapeId, Set<number>>();
  let lost = 0;
  for (const found of wanted.values()) {
    if (!found.length) lost++;
    const seams = found.some((f) => f.isSeam) ? found.filter((f) => f.isSeam) : found;
    for (const { shape, edge } of seams) edges.set(shape, (edges.get(shape) ?? new Set()).add(edge));
  }
  return { edges: new Map([...edges].map(([id, own]) => [id, Uint32Array.from(own).sort()])), lost };
}

/** Every edge of a mesh both of whose ends lie at some place, with the pair of them. */
function* pairsOf(mesh: PolyMesh, world: Float64Array, places: Places): Generator<[number, number]> {
  const at = new Int32Array(world.length / 3);
  for (let v = 0; v < at.length; v++) at[v] = places.at(world[3 * v]!, world[3 * v + 1]!, world[3 * v + 2]!);
  const { edgeVertices, edgeCount } = topologyOf(mesh);
  for (let e = 0; e < edgeCount; e++) {
    const [a, b] = [at[edgeVertices[2 * e]!]!, at[edgeVertices[2 * e + 1]!]!];
    if (a >= 0 && b >= 0) yield [e, places.pair(a, b)];
  }
}

/** Points of which those that lie together are one. */
class Places {
  /** For every point the first that lies with it. */
  readonly same: Int32Array;
  private readonly grid: PointGrid;

  /** @param points 3 per point */
  constructor(
    private readonly points: Float64Array,
    private readonly reach: number,
  ) {
    this.grid = new PointGrid(points, reach);
    this.same = new Int32Array(points.length / 3);
    for (let i = 0; i < this.same.length; i++) {
      const known = this.at(points[3 * i]!, points[3 * i + 1]!, points[3 * i + 2]!);
      if (known < 0) this.grid.add(i);
      this.same[i] = known < 0 ? i : known;
    }
  }

  /** The point nearest to a place, within reach; -1 for none. */
  at(x: number, y: number, z: number): number {
    const { points: p } = this;
    let [best, least] = [-1, this.reach];
    this.grid.near(x, y, z, (i) => {
      const d = Math.hypot(p[3 * i]! - x, p[3 * i + 1]! - y, p[3 * i + 2]! - z);
      if (d > least) return;
      [best, least] = [i, d];
    });
    return best;
  }

  /** One number for two points, whichever comes first. */
  pair(a: number, b: number): number {
    return Math.min(a, b) * this.same.length + Math.max(a, b);
  }
}
