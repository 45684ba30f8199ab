import { type Bits, getBit, makeBits, setBit } from "../layout/bits";
import type { Corner, Edge } from "../mesh/indices";
import { latticeDiagonals, longestEdges, withTrianglesPaired } from "../mesh/paired-triangles";
import type { PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, mateCorner, topologyOf } from "../mesh/topology";
import { writeVectorArea } from "../mesh/vector-area";
import { iota } from "../numeric/iota";
import { length3 } from "../numeric/length";
import { seenAlongNormal, unrolledTube } from "./bent-tube";
import { faceNormals, formOf, regionsOf } from "./form";
import { dot, frameAbout, type Vector } from "./frame";
import { hiddenWeight } from "./hidden-weight";

/** The cosine between two faces below which an edge may part a tube from its end. */
const CREASE = Math.cos((50 * Math.PI) / 180);
/** Of the area of faces, how much their sum as vectors has to come to for them to be flat. */
const FLAT = 0.98;

/** A mesh laid out, 2 numbers per corner, with the count of its pieces. */
interface Unrolled {
  readonly uv: Float64Array;
  readonly pieces: number;
}

/**
 * A body that is a tube, with its ends whatever they are made of as long as they are flat: the tube unrolled along its own
 * axis, the ends as they are seen from outside. Triangles that were quads count as those.
 *
 * @param mesh with its vertices in world space @param back away from who looks, unit
 * @returns null where it is no tube
 */
export function unrolledBody(mesh: PolyMesh, cut: Bits, back: Vector): Unrolled | null {
  const byLength = unrolledWith(mesh, cut, back, longestEdges(mesh));
  if (byLength) return byLength;
  for (const faces of [iota(mesh.faceStart.length - 1), partsOf(mesh)[0]!])
    for (const diagonals of latticeDiagonals(mesh, faces)) {
      const found = unrolledWith(mesh, cut, back, diagonals);
      if (found) return found;
    }
  return null;
}

/** A body as a tube of quads, its triangles joined along some of their edges. */
function unrolledWith(mesh: PolyMesh, cut: Bits, back: Vector, diagonals: Int32Array): Unrolled | null {
  const { mesh: quads, corner } = withTrianglesPaired(mesh, diagonals);
  const t = topologyOf(quads);
  const own = topologyOf(mesh);
  const open = makeBits(t.edgeCount);
  for (let c = 0; c < corner.length; c++) {
    const [a, b] = [corner[c]!, corner[own.cornerNext[c]!]!];
    // A diagonal is no edge any more.
    if (getBit(cut, own.cornerEdge[c]!) && t.cornerNext[a] === b) setBit(open, t.cornerEdge[a]!);
  }
  const source = { mesh: quads, topology: t, world: quads.positions };
  const weight = hiddenWeight(quads, back);
  const found =
    unrolledTube(source, iota(quads.faceStart.length - 1), open, weight) ?? withFlatEnds(quads, open, weight);
  if (!found) return null;
  const uv = new Float64Array(2 * corner.length);
  for (let c = 0; c < corner.length; c++) {
    uv[2 * c] = found.uv[2 * corner[c]!]!;
    uv[2 * c + 1] = found.uv[2 * corner[c]! + 1]!;
  }
  return { uv, pieces: found.pieces };
}

/** The largest part of a body between its creases as a tube, where all others are flat. */
function withFlatEnds(mesh: PolyMesh, cut: Bits, weight: (edge: number) => number): Unrolled | null {
  const [tube, ...ends] = partsOf(mesh);
  if (!tube || !ends.length || ends.length > 2 || !ends.every((faces) => isFlat(mesh, faces))) return null;
  const source = { mesh, topology: topologyOf(mesh), world: mesh.positions };
  const found = unrolledTube(source, tube, cut, weight);
  if (!found) return null;
  for (const faces of ends)
    seenAlongNormal(source, faces, (corner, u, v) => {
      found.uv[2 * corner] = u;
      found.uv[2 * corner + 1] = v;
    });
  return { uv: found.uv, pieces: found.pieces + ends.length };
}

const normalsOf = (mesh: PolyMesh) => {
  const faces = iota(mesh.faceStart.length - 1);
  const creases = makeBits(topologyOf(mesh).edgeCount);
  const form = formOf(mesh, mesh.positions, faces, creases, frameAbout([0, 0, 1], [0, 1, 0], [0, 0, 0]));
  return { form, creases, ...faceNormals(form) };
};

/** Parts of a mesh between its creases, that of most faces first; each list ascending. */
function partsOf(mesh: PolyMesh): Uint32Array[] {
  const t = topologyOf(mesh);
  const { form, creases, normals } = normalsOf(mesh);
  const normal = (f: number): Vector => [normals[3 * f]!, normals[3 * f + 1]!, normals[3 * f + 2]!];
  for (let c = 0; c < mesh.cornerVertex.length; c++) {
    const e = t.cornerEdge[c]! as Edge;
    const mate = edgeFaceCount(t, e) === 2 ? mateCorner(t, c as Corner) : -1;
    if (mate >= 0 && dot(normal(t.cornerFace[c]!), normal(t.cornerFace[mate]!)) < CREASE) setBit(creases, e);
  }
  return regionsOf(form, form.inside).sort((a, b) => b.length - a.length);
}

function isFlat(mesh: PolyMesh, faces: Uint32Array): boolean {
  const area = new Float64Array(3);
  let [x, y, z, all] = [0, 0, 0, 0];
  for (const f of faces) {
    writeVectorArea(mesh.positions, mesh.cornerVertex, mesh.faceStart[f]!, mesh.faceStart[f + 1]!, area);
    x += area[0]!;
    y += area[1]!;
    z += area[2]!;
    all += length3(area[0]!, area[1]!, area[2]!);
  }
  return length3(x, y, z) >= FLAT * all;
}
