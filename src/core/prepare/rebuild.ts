import { refuseTiedShape } from "../layout/assembly";
import type { PlacedShape } from "../layout/asset";
import { carryLayout } from "../layout/carry";
import { NONE, type PolyMesh } from "../mesh/poly-mesh";
import { pickNormals } from "../mesh/sub-mesh";

/** The faces a mesh will have, as corners of the one it had. */
export interface FacePlan {
  /** The face it was; NONE for a new one. */
  readonly from: number;
  /** Corners of the old mesh in the order of the new face; -1 for a corner that is new. */
  readonly corners: readonly number[];
  /** Vertex of every corner, among the planned vertices. */
  readonly vertices: readonly number[];
}

/** The vertices a mesh is to have: each with the one it was, whose place it takes unless it is moved. */
export interface VertexPlan {
  readonly from: readonly number[];
}

/**
 * A part with its mesh rebuilt, and its layouts in all sets carried over by corners. Vertices that lose their last face
 * go; those that had none stay, unless strays are to go as well.
 *
 * @throws UserError when its shape is tied
 */
export function rebuiltShape(
  shape: PlacedShape,
  faces: readonly FacePlan[],
  vertices: VertexPlan,
  strays = true,
): PlacedShape {
  refuseTiedShape(shape.name, shape);
  const { mesh: old } = shape;
  const used = new Int32Array(vertices.from.length).fill(strays ? 0 : -1);
  if (strays) for (const v of old.cornerVertex) used[v] = -1;
  for (const f of faces) for (const v of f.vertices) used[v] = 0;
  let count = 0;
  for (let v = 0; v < used.length; v++) if (used[v] === 0) used[v] = count++;
  const positions = new Float64Array(3 * count);
  const originVertex = new Uint32Array(count);
  const taken = new Set<number>();
  vertices.from.forEach((from, v) => {
    const to = used[v]!;
    if (to < 0) return;
    positions.set(old.positions.subarray(3 * from, 3 * from + 3), 3 * to);
    // A second vertex out of one has no place of its own in the file.
    originVertex[to] = taken.has(from) ? NONE : old.origin.vertex[from]!;
    taken.add(from);
  });
  const faceStart = new Uint32Array(faces.length + 1);
  faces.forEach((f, i) => {
    faceStart[i + 1] = faceStart[i]! + f.corners.length;
  });
  const corner = Int32Array.from(faces.flatMap((f) => f.corners));
  const pick = (list: Uint32Array) => Uint32Array.from(faces, (f) => (f.from === NONE ? NONE : list[f.from]!));
  const mesh: PolyMesh = {
    positions,
    faceStart,
    cornerVertex: Uint32Array.from(
      faces.flatMap((f) => f.vertices),
      (v) => used[v]!,
    ),
    faceMaterial: pick(old.faceMaterial),
    faceGroup: pick(old.faceGroup),
    groups: old.groups,
    ...(old.cornerNormal ? { cornerNormal: pickNormals(old.cornerNormal, corner) } : {}),
    origin: { vertex: originVertex, face: pick(old.origin.face) },
  };
  const layouts = new Map([...shape.layouts].map(([set, layout]) => [set, carryLayout(old, layout, mesh, corner)]));
  return { ...shape, mesh, layouts };
}

/** The mesh's own faces as a plan, each changed or left out as asked. */
export function planFaces(
  mesh: PolyMesh,
  change: (face: FacePlan, f: number) => readonly FacePlan[] | FacePlan | null,
): FacePlan[] {
  const out: FacePlan[] = [];
  for (let f = 0; f + 1 < mesh.faceStart.length; f++) {
    const corners = Array.from(
      { length: mesh.faceStart[f + 1]! - mesh.faceStart[f]! },
      (_, k) => mesh.faceStart[f]! + k,
    );
    const made = change({ from: f, corners, vertices: corners.map((c) => mesh.cornerVertex[c]!) }, f);
    if (Array.isArray(made)) out.push(...made);
    else if (made) out.push(made as FacePlan);
  }
  return out;
}

/** All vertices as they are. */
export const sameVertices = (mesh: PolyMesh): VertexPlan => ({
  from: Array.from({ length: mesh.positions.length / 3 }, (_, v) => v),
});

/** A face without corners that repeat the vertex before them; null when fewer than three are left. */
export function withoutRepeats(face: FacePlan): FacePlan | null {
  const keep = face.vertices.map((v, i) => face.vertices.indexOf(v) === i);
  const corners = face.corners.filter((_, i) => keep[i]);
  return corners.length < 3 ? null : { ...face, corners, vertices: face.vertices.filter((_, i) => keep[i]) };
}
