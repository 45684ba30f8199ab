import type { PlacedShape } from "../layout/asset";
import { UserError } from "../layout/user-error";
import type { Corner } from "../mesh/indices";
import { faceCount, NONE, type PolyMesh, repeatsVertex, vertexCount } from "../mesh/poly-mesh";
import { edgeFaceCount, mateCorner, topologyOf, windsAlike } from "../mesh/topology";
import { trianglesOf } from "../mesh/triangulate";
import { iota } from "../numeric/iota";
import { rootOf, unite } from "../numeric/union-find";
import { keepFace, keepWithoutRepeats, planFaces, rebuiltShape } from "./rebuild";

// Repairs of a part's mesh. Each returns the same part when there is nothing to mend.

/** Joins vertices by pairs; faces that lose all area by it go. */
export function joinVertices(shape: PlacedShape, pairs: readonly number[]): PlacedShape {
  if (!pairs.length) return shape;
  const { mesh } = shape;
  const parent = iota(vertexCount(mesh));
  for (let i = 0; i < pairs.length; i += 2) unite(parent, pairs[i]!, pairs[i + 1]!);
  const joined = (v: number) => rootOf(parent, v);
  const faces = planFaces(mesh, (plan, f) => keepWithoutRepeats(plan, mesh, f, joined));
  if (!faces.count) throw new UserError(`${shape.name} would lose all its faces; take a smaller distance.`);
  return rebuiltShape(shape, faces);
}

export function dropStray(shape: PlacedShape, stray: Uint32Array | undefined): PlacedShape {
  if (!stray?.length) return shape;
  return rebuiltShape(shape, planFaces(shape.mesh), { strays: false });
}

/** Faces with a vertex twice lose the repeat; those without area go. */
export function dropFlat(shape: PlacedShape, flat: Uint32Array | undefined): PlacedShape {
  if (!flat?.length) return shape;
  const { mesh } = shape;
  const bad = new Set(flat);
  const faces = planFaces(mesh, (plan, f) => {
    if (!bad.has(f)) keepFace(plan, mesh, f);
    else if (repeatsVertex(mesh, f)) keepWithoutRepeats(plan, mesh, f);
  });
  if (!faces.count) throw new UserError(`${shape.name} has no face with an area; it cannot be mended.`);
  return rebuiltShape(shape, faces);
}

/** Cuts the given faces into triangles, as they are measured and drawn. */
export function cutPolygons(shape: PlacedShape, list: Iterable<number>): PlacedShape {
  const wanted = new Set(list);
  if (!wanted.size) return shape;
  const { mesh } = shape;
  const t = trianglesOf(mesh);
  const faces = planFaces(mesh, (plan, f) => {
    if (!wanted.has(f)) return keepFace(plan, mesh, f);
    for (let k = t.faceStart[f]!; k < t.faceStart[f + 1]!; k++) {
      for (let i = 0; i < 3; i++) plan.corner(t.corners[3 * k + i]!, mesh.cornerVertex[t.corners[3 * k + i]!]!);
      plan.end(f);
    }
  });
  return rebuiltShape(shape, faces);
}

/** Winds the faces of each connected run alike: outwards where it is closed, as most of them do elsewhere. */
export function windAlike(shape: PlacedShape): PlacedShape {
  const { mesh } = shape;
  const t = topologyOf(mesh);
  const count = faceCount(mesh);
  const turned = new Int8Array(count);
  const seen = new Uint8Array(count);
  let any = false;
  for (let start = 0; start < count; start++) {
    if (seen[start]) continue;
    seen[start] = 1;
    const run = [start];
    let closed = true;
    for (let i = 0; i < run.length; i++) {
      const f = run[i]!;
      for (let c = mesh.faceStart[f]! as Corner; c < mesh.faceStart[f + 1]!; c++) {
        const mate = mateCorner(t, c);
        if (mate === -1) {
          closed = false;
          continue;
        }
        const other = t.cornerFace[mate]!;
        if (seen[other]) continue;
        seen[other] = 1;
        turned[other] = windsAlike(mesh, t, c, mate) ? turned[f]! : 1 - turned[f]!;
        run.push(other);
      }
    }
    const many = run.reduce((n, f) => n + turned[f]!, 0);
    const inward = closed ? volume(mesh, run, turned) < 0 : many > run.length / 2;
    if (inward) for (const f of run) turned[f] = 1 - turned[f]!;
    any ||= run.some((f) => turned[f]);
  }
  if (!any) return shape;
  return rebuiltShape(
    shape,
    planFaces(mesh, (plan, f) => keepFace(plan, mesh, f, turned[f] === 1)),
  );
}

/** Six times the volume a run of faces would enclose. */
function volume(mesh: PolyMesh, run: readonly number[], turned: Int8Array): number {
  const p = mesh.positions;
  let sum = 0;
  for (const f of run) {
    const sign = turned[f] ? -1 : 1;
    const o = 3 * mesh.cornerVertex[mesh.faceStart[f]!]!;
    for (let c = mesh.faceStart[f]! + 1; c + 1 < mesh.faceStart[f + 1]!; c++) {
      const [a, b] = [3 * mesh.cornerVertex[c]!, 3 * mesh.cornerVertex[c + 1]!];
      const cross = (i: number, j: number) => p[a + i]! * p[b + j]! - p[a + j]! * p[b + i]!;
      sum += sign * (p[o]! * cross(1, 2) + p[o + 1]! * cross(2, 0) + p[o + 2]! * cross(0, 1));
    }
  }
  return sum;
}

/** Gives every fan of faces at edges with three or more faces vertices of its own, so that they come apart there. */
export function partEdges(shape: PlacedShape, edges: Uint32Array | undefined): PlacedShape {
  if (!edges?.length) return shape;
  const { mesh } = shape;
  const t = topologyOf(mesh);
  const at = new Set<number>();
  for (const e of edges) at.add(t.edgeVertices[2 * e]!).add(t.edgeVertices[2 * e + 1]!);
  // Corners at one vertex belong to one fan when their faces meet at an edge that has two.
  const parent = iota(mesh.cornerVertex.length);
  for (let c = 0 as Corner; c < parent.length; c++) {
    const mate = mateCorner(t, c);
    if (mate < 0) continue;
    const same = mesh.cornerVertex[mate] === mesh.cornerVertex[c];
    unite(parent, c, same ? mate : t.cornerNext[mate]!);
    unite(parent, t.cornerNext[c]!, same ? t.cornerNext[mate]! : mate);
  }
  const from = Array.from(iota(vertexCount(mesh)));
  const first = new Map<number, number>();
  const own = new Map<number, number>();
  const vertexOf = (c: number): number => {
    const v = mesh.cornerVertex[c]!;
    if (!at.has(v)) return v;
    const fan = rootOf(parent, c);
    if (!first.has(v)) first.set(v, fan);
    if (first.get(v) === fan) return v;
    let copy = own.get(fan);
    if (copy === undefined) {
      copy = from.push(v) - 1;
      own.set(fan, copy);
    }
    return copy;
  };
  const faces = planFaces(mesh, (plan, f) => {
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) plan.corner(c, vertexOf(c));
    plan.end(f);
  });
  return rebuiltShape(shape, faces, { from });
}

/** Joins the ends of needles' shortest sides; needles without a short side, which are caps, stay. */
export function collapseNeedles(shape: PlacedShape, needles: Uint32Array | undefined): PlacedShape {
  const { mesh } = shape;
  const p = mesh.positions;
  const pairs: number[] = [];
  for (const f of needles ?? []) {
    let [least, most, pair] = [Infinity, 0, [0, 0]];
    const [from, to] = [mesh.faceStart[f]!, mesh.faceStart[f + 1]!];
    for (let c = from; c < to; c++) {
      const [a, b] = [mesh.cornerVertex[c]!, mesh.cornerVertex[c + 1 === to ? from : c + 1]!];
      const d = Math.hypot(p[3 * a]! - p[3 * b]!, p[3 * a + 1]! - p[3 * b + 1]!, p[3 * a + 2]! - p[3 * b + 2]!);
      if (d < least) [least, pair] = [d, [a, b]];
      most = Math.max(most, d);
    }
    if (least < 0.05 * most) pairs.push(...pair);
  }
  return joinVertices(shape, pairs);
}

/** Closed runs of border edges, as corners in the order of a face that would fill them. */
export function borderLoops(mesh: PolyMesh): number[][] {
  const t = topologyOf(mesh);
  // The border leaves every vertex once on a clean border; where it does not, the loop is left open.
  const leaving = new Map<number, number>();
  const unclear = new Set<number>();
  for (let c = 0; c < mesh.cornerVertex.length; c++) {
    if (edgeFaceCount(t, t.cornerEdge[c]!) !== 1) continue;
    const end = mesh.cornerVertex[t.cornerNext[c]!]!;
    if (leaving.has(end)) unclear.add(end);
    leaving.set(end, c);
  }
  const out: number[][] = [];
  const done = new Set<number>();
  for (const [start] of leaving) {
    if (done.has(start)) continue;
    const loop: number[] = [];
    let v = start;
    while (!done.has(v) && leaving.has(v) && !unclear.has(v)) {
      done.add(v);
      loop.push(v);
      v = mesh.cornerVertex[leaving.get(v)!]!;
    }
    if (v === start && loop.length > 2) out.push(loop);
  }
  return out;
}

/** Fills border loops of at most so many edges with one face each; the new faces have no coordinates. */
export function closeGaps(shape: PlacedShape, most: number): { shape: PlacedShape; closed: number } {
  const { mesh } = shape;
  const loops = borderLoops(mesh).filter((l) => l.length <= most);
  if (!loops.length) return { shape, closed: 0 };
  const faces = planFaces(mesh);
  for (const loop of loops) {
    for (const v of loop) faces.corner(-1, v);
    faces.end(NONE);
  }
  return { shape: rebuiltShape(shape, faces), closed: loops.length };
}
