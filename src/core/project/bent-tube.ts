import { type Bits, getBit, makeBits } from "../layout/bits";
import { writeVectorArea } from "../mesh/vector-area";
import type { Source } from "../seams/piece";
import { type Layer, type Turned, turnedBody } from "../seams/turned";
import { dot, frameAbout } from "./frame";

/** A mesh with its vertices in world space. */
type Placed = Pick<Source, "mesh" | "topology" | "world">;

/** The lengths of a body of rings, as the sheet has them. */
interface Sizes {
  /** Where every column begins, and where the last one ends. */
  readonly across: readonly number[];
  /** Where every layer begins, and where the last one ends. */
  readonly along: readonly number[];
}

/**
 * A body of rings unrolled along its own axis, however that bends: a rectangle whose columns are as wide, and whose rows as
 * high, as they are on average in space; closed ends become discs beside it. It is opened along the column edge that is a
 * seam already, or else along that which weighs least.
 *
 * @param weight what a seam along each edge weighs
 * @returns by corner of the mesh, 2 numbers each, NaN elsewhere, with the count of pieces; null where the faces are no body of
 * rings
 */
export function unrolledTube(
  source: Placed,
  faces: Uint32Array,
  cut: Bits,
  weight: (edge: number) => number,
): { uv: Float64Array; pieces: number } | null {
  const { mesh, topology: t } = source;
  const body = turnedBody(source, faces, makeBits(t.edgeCount));
  if (!body) return null;
  const tube = body.layers.filter((layer) => !isEnd(source, body, layer));
  if (!tube.length) return null;
  const first = openedAt(tube, body.columns, cut, weight);
  const { across, along } = sizesOf(source, body, tube, first);
  const out = new Float64Array(2 * mesh.cornerVertex.length).fill(NaN);
  const put = (corner: number, u: number, v: number) => {
    out[2 * corner] = u;
    out[2 * corner + 1] = v;
  };
  tube.forEach((layer, row) => {
    for (let k = 0; k < body.columns; k++) {
      const c = ringCorner(source, layer, (first + k) % body.columns);
      // From the ring on, counter-clockwise about the face: along the ring, up, back, down.
      const [next, far, back] = [t.cornerNext[c]!, t.cornerNext[t.cornerNext[c]!]!, before(source, c)];
      put(c, across[k]!, along[row]!);
      put(next, across[k + 1]!, along[row]!);
      put(far, across[k + 1]!, along[row + 1]!);
      put(back, across[k]!, along[row + 1]!);
    }
  });
  const ends = body.layers.filter((layer) => isEnd(source, body, layer));
  for (const layer of ends) seenAlongNormal(source, layer.faces, put);
  return { uv: out, pieces: 1 + ends.length };
}

const before = ({ mesh, topology: t }: Placed, c: number): number => {
  const f = t.cornerFace[c]!;
  return c === mesh.faceStart[f]! ? mesh.faceStart[f + 1]! - 1 : c - 1;
};

/** Whether a layer is a closed end: a cap, or triangles about a pole. */
function isEnd({ mesh }: Placed, body: Turned, layer: Layer): boolean {
  const size = mesh.faceStart[layer.faces[0]! + 1]! - mesh.faceStart[layer.faces[0]!]!;
  return layer.faces.length < body.columns || size !== 4;
}

/** The corner of a layer's face from which its edge on the ring before it runs: that after the column edge it begins with. */
function ringCorner({ mesh, topology: t }: Placed, { faces, meridians }: Layer, k: number): number {
  const f = faces[k]!;
  for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
    if (t.cornerEdge[c] === meridians[k]) return t.cornerNext[c]!;
  throw new Error("A face of a body of rings lies beside its column edge.");
}

/** The column edge along which the layers of a tube are opened: one that is a seam already, or that which weighs least. */
export function openedAt(tube: readonly Layer[], columns: number, cut: Bits, weight: (edge: number) => number): number {
  let best = 0;
  let least = Infinity;
  for (let k = 0; k < columns; k++) {
    let sum = 0;
    for (const { meridians } of tube) sum += getBit(cut, meridians[k]!) ? 0 : weight(meridians[k]!);
    if (sum >= least) continue;
    least = sum;
    best = k;
  }
  return best;
}

function sizesOf(source: Placed, { columns }: Turned, tube: readonly Layer[], first: number): Sizes {
  const { mesh, topology: t, world } = source;
  const length = (c: number) => {
    const [p, q] = [3 * mesh.cornerVertex[c]!, 3 * mesh.cornerVertex[t.cornerNext[c]!]!];
    return Math.sqrt(
      (world[p]! - world[q]!) ** 2 + (world[p + 1]! - world[q + 1]!) ** 2 + (world[p + 2]! - world[q + 2]!) ** 2,
    );
  };
  const across = [0];
  for (let k = 0; k < columns; k++) {
    let sum = 0;
    for (const layer of tube) {
      const c = ringCorner(source, layer, (first + k) % columns);
      sum += (length(c) + length(t.cornerNext[t.cornerNext[c]!]!)) / 2;
    }
    across.push(across[k]! + sum / tube.length);
  }
  const along = [0];
  for (const [row, layer] of tube.entries()) {
    let sum = 0;
    for (let k = 0; k < columns; k++) sum += length(before(source, ringCorner(source, layer, k)));
    along.push(along[row]! + sum / columns);
  }
  return { across, along };
}

/** Faces as they are seen along their normal. */
export function seenAlongNormal(
  { mesh, world }: Placed,
  faces: ArrayLike<number> & Iterable<number>,
  put: (corner: number, u: number, v: number) => void,
): void {
  const area = new Float64Array(3);
  let [nx, ny, nz] = [0, 0, 0];
  for (const f of faces) {
    writeVectorArea(world, mesh.cornerVertex, mesh.faceStart[f]!, mesh.faceStart[f + 1]!, area);
    nx += area[0]!;
    ny += area[1]!;
    nz += area[2]!;
  }
  const { x, y } = frameAbout([nx, ny, nz], [0, 1, 0], [0, 0, 0]);
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const v = 3 * mesh.cornerVertex[c]!;
      const p = [world[v]!, world[v + 1]!, world[v + 2]!] as const;
      put(c, dot(p, x), dot(p, y));
    }
}
