import { type Bits, getBit } from "../layout/bits";
import type { Corner, Edge } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, mateCorner, type Topology, topologyOf } from "../mesh/topology";
import { writeVectorArea } from "../mesh/vector-area";
import { length3 } from "../numeric/length";
import { type Frame, inFrame } from "./frame";

/** Some faces of a mesh as a projection sees them. */
export interface Form {
  readonly mesh: PolyMesh;
  readonly topology: Topology;
  /** 3 per vertex of the mesh, in the projection's frame. */
  readonly points: Float64Array;
  /** Ascending. */
  readonly faces: Uint32Array;
  /** 1 for those faces, by face. */
  readonly inside: Uint8Array;
  /** Edges that are seams, or are to be: nothing has to hold together across them. */
  readonly cut: Bits;
}

export function formOf(mesh: PolyMesh, world: Float64Array, faces: Uint32Array, cut: Bits, frame: Frame): Form {
  const inside = new Uint8Array(mesh.faceStart.length - 1);
  for (const f of faces) inside[f] = 1;
  return { mesh, topology: topologyOf(mesh), points: inFrame(frame, world), faces, inside, cut };
}

/** Coordinates by corner of the mesh, 2 each: NaN where no face of the form is. */
export const noCoordinates = ({ mesh }: Form): Float64Array => new Float64Array(2 * mesh.cornerVertex.length).fill(NaN);

/** The corner on the other side of a corner's edge within the form; -1 at its border and at seams. */
export function across({ topology: t, inside, cut }: Form, corner: number): number {
  const e = t.cornerEdge[corner]! as Edge;
  if (getBit(cut, e) || edgeFaceCount(t, e) !== 2) return -1;
  const mate = mateCorner(t, corner as Corner);
  return mate >= 0 && inside[t.cornerFace[mate]!] ? mate : -1;
}

const area = new Float64Array(3);

/** Unit normals of a form's faces, 3 by face of the mesh, and their areas. */
export function faceNormals({ mesh, points, faces, inside }: Form): { normals: Float64Array; areas: Float64Array } {
  const normals = new Float64Array(3 * inside.length);
  const areas = new Float64Array(inside.length);
  for (const f of faces) {
    writeVectorArea(points, mesh.cornerVertex, mesh.faceStart[f]!, mesh.faceStart[f + 1]!, area);
    const length = length3(area[0]!, area[1]!, area[2]!);
    areas[f] = length / 2;
    if (length > 0) for (let d = 0; d < 3; d++) normals[3 * f + d] = area[d]! / length;
  }
  return { normals, areas };
}

/** Faces that hang together within the form, off its seams, and carry the same mark; each list ascending. */
export function regionsOf(form: Form, mark: ArrayLike<number>): Uint32Array[] {
  const { mesh, topology: t, faces } = form;
  const done = new Uint8Array(form.inside.length);
  const list = new Uint32Array(faces.length);
  const out: Uint32Array[] = [];
  for (const seed of faces) {
    if (done[seed]) continue;
    done[seed] = 1;
    list[0] = seed;
    let length = 1;
    for (let i = 0; i < length; i++) {
      const f = list[i]!;
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
        const mate = across(form, c);
        if (mate < 0) continue;
        const g = t.cornerFace[mate]!;
        if (done[g] || mark[g] !== mark[f]) continue;
        done[g] = 1;
        list[length++] = g;
      }
    }
    out.push(list.slice(0, length).sort());
  }
  return out;
}
