import { refuseTiedShape } from "../layout/assembly";
import type { PlacedShape } from "../layout/asset";
import { carryLayout } from "../layout/carry";
import { faceCount, NONE, type PolyMesh, vertexCount } from "../mesh/poly-mesh";
import { pickNormals } from "../mesh/sub-mesh";
import { GrowableArray } from "../numeric/growable-array";

/** The faces a mesh will have, written one after another: corner by corner, then `end` with the face it was. */
export class FacePlan {
  /** The face that each was; NONE for a new one. */
  readonly from = new GrowableArray();
  readonly start = new GrowableArray().add(0);
  /** Corner of the old mesh that each is; -1 for a corner that is new. */
  readonly corners = new GrowableArray();
  /** Vertex of every corner, among the vertices there will be. */
  readonly vertices = new GrowableArray();

  get count(): number {
    return this.from.length;
  }

  corner(corner: number, vertex: number): void {
    this.corners.add(corner);
    this.vertices.add(vertex);
  }

  /** Ends the face whose corners were written since the last one. */
  end(from: number): void {
    this.from.add(from);
    this.start.add(this.corners.length);
  }

  /** Takes the corners back that were written since the last face. */
  drop(): void {
    this.corners.length = this.vertices.length = this.start.data[this.count]!;
  }

  /** Whether a vertex is among those written since the last face. */
  has(vertex: number): boolean {
    for (let k = this.start.data[this.count]!; k < this.vertices.length; k++)
      if (this.vertices.data[k] === vertex) return true;
    return false;
  }

  /** Corners written since the last face. */
  get open(): number {
    return this.corners.length - this.start.data[this.count]!;
  }
}

/** Writes face `f` of a mesh as it is, turned over if asked. */
export function keepFace(plan: FacePlan, mesh: PolyMesh, f: number, turned = false): void {
  const from = mesh.faceStart[f]!;
  const to = mesh.faceStart[f + 1]!;
  for (let k = 0; k < to - from; k++) {
    const c = turned ? to - 1 - k : from + k;
    plan.corner(c, mesh.cornerVertex[c]!);
  }
  plan.end(f);
}

/** Writes face `f` without corners that repeat a vertex; not at all when fewer than three are left. */
export function keepWithoutRepeats(
  plan: FacePlan,
  mesh: PolyMesh,
  f: number,
  vertexOf: (vertex: number) => number = (v) => v,
): void {
  for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
    const vertex = vertexOf(mesh.cornerVertex[c]!);
    if (!plan.has(vertex)) plan.corner(c, vertex);
  }
  if (plan.open < 3) plan.drop();
  else plan.end(f);
}

/** All faces of a mesh, each written by `write`; as it is when not given. */
export function planFaces(mesh: PolyMesh, write: (plan: FacePlan, f: number) => void = (p, f) => keepFace(p, mesh, f)) {
  const plan = new FacePlan();
  plan.corners.reserve(mesh.cornerVertex.length);
  plan.vertices.reserve(mesh.cornerVertex.length);
  for (let f = 0; f < faceCount(mesh); f++) write(plan, f);
  return plan;
}

/** What becomes of vertices that no face uses. */
export interface VertexOptions {
  /** For every vertex that faces were planned with, the old one whose place it takes; all as they are when not given. */
  readonly from?: ArrayLike<number>;
  /** Keeps vertices that no face used before (strays). */
  readonly strays?: boolean;
}

/**
 * A part with its mesh rebuilt, and its layouts in all sets carried over by corners. Vertices that this edit takes the
 * last face from are removed.
 *
 * @throws UserError when its shape is tied
 */
export function rebuiltShape(
  shape: PlacedShape,
  plan: FacePlan,
  { from, strays = true }: VertexOptions = {},
): PlacedShape {
  refuseTiedShape(shape.name, shape);
  const { mesh: old } = shape;
  const numbers = keptVertices(old, plan, from?.length ?? vertexCount(old), strays);
  const { positions, origin } = vertexTables(old, numbers, from);
  const vertices = plan.vertices.data;
  const corner = Int32Array.from(plan.corners.data.subarray(0, plan.corners.length));
  const pick = (list: Uint32Array) => {
    const out = new Uint32Array(plan.count);
    for (let f = 0; f < out.length; f++) out[f] = plan.from.data[f] === NONE ? NONE : list[plan.from.data[f]!]!;
    return out;
  };
  const cornerVertex = new Uint32Array(corner.length);
  for (let c = 0; c < corner.length; c++) cornerVertex[c] = numbers[vertices[c]!]!;
  const mesh: PolyMesh = {
    positions,
    faceStart: Uint32Array.from(plan.start.data.subarray(0, plan.start.length)),
    cornerVertex,
    faceMaterial: pick(old.faceMaterial),
    faceGroup: pick(old.faceGroup),
    groups: old.groups,
    ...(old.cornerNormal ? { cornerNormal: pickNormals(old.cornerNormal, corner) } : {}),
    origin: { vertex: origin, face: pick(old.origin.face) },
  };
  const layouts = new Map([...shape.layouts].map(([set, layout]) => [set, carryLayout(old, layout, mesh, corner)]));
  return { ...shape, mesh, layouts };
}

/** New numbers of the planned vertices; -1 for those that go. */
function keptVertices(old: PolyMesh, plan: FacePlan, count: number, strays: boolean): Int32Array {
  const numbers = new Int32Array(count).fill(strays ? 0 : -1);
  if (strays) for (const v of old.cornerVertex) numbers[v] = -1;
  for (let c = 0; c < plan.vertices.length; c++) numbers[plan.vertices.data[c]!] = 0;
  let next = 0;
  for (let v = 0; v < count; v++) if (numbers[v] === 0) numbers[v] = next++;
  return numbers;
}

function vertexTables(old: PolyMesh, numbers: Int32Array, from: ArrayLike<number> | undefined) {
  const count = numbers.reduce((n, x) => n + (x >= 0 ? 1 : 0), 0);
  const positions = new Float64Array(3 * count);
  const origin = new Uint32Array(count);
  const taken = new Uint8Array(vertexCount(old));
  for (let v = 0; v < numbers.length; v++) {
    const to = numbers[v]!;
    if (to < 0) continue;
    const was = from ? from[v]! : v;
    for (let d = 0; d < 3; d++) positions[3 * to + d] = old.positions[3 * was + d]!;
    // A second vertex out of one has no place of its own in the file.
    origin[to] = taken[was] ? NONE : old.origin.vertex[was]!;
    taken[was] = 1;
  }
  return { positions, origin };
}
