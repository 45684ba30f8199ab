import type { Corner, Edge, Face } from "./indices";
import type { PolyMesh } from "./poly-mesh";
import { edgeFaceCount, mateCorner, topologyOf } from "./topology";

/** Faces in a row, each across an edge from the one before it. */
export interface Strip {
  readonly faces: readonly Face[];
  /** Whether the last is beside the first. */
  readonly closed: boolean;
}

const isQuad = ({ faceStart }: PolyMesh, f: number): boolean => faceStart[f + 1]! - faceStart[f]! === 4;

/**
 * Faces of four corners in a row, each left by the edge opposite to the one it was entered by. The row ends at a face of
 * another size, at a border, at an edge with more than two faces, and where it comes to an edge it has crossed.
 *
 * @param corner of the face it begins with, which is left by the edge of that corner
 */
function walkFrom(mesh: PolyMesh, corner: Corner, crossed: Set<Edge>): { faces: Face[]; closed: boolean } {
  const t = topologyOf(mesh);
  const faces: Face[] = [];
  let c = corner;
  for (;;) {
    const e = t.cornerEdge[c]!;
    if (crossed.has(e)) return { faces, closed: true };
    crossed.add(e);
    const mate = edgeFaceCount(t, e) === 2 ? mateCorner(t, c) : -1;
    if (mate < 0) return { faces, closed: false };
    const f = t.cornerFace[mate]!;
    if (!isQuad(mesh, f)) return { faces, closed: false };
    faces.push(f);
    const start = mesh.faceStart[f]!;
    c = (start + ((mate - start + 2) % 4)) as Corner;
  }
}

/** The rows through a face of four corners, one for each way of crossing it; none through any other face. */
export function stripsThrough(mesh: PolyMesh, face: Face): Strip[] {
  if (!isQuad(mesh, face)) return [];
  return [0, 1].map((way) => {
    const crossed = new Set<Edge>();
    const ahead = walkFrom(mesh, (mesh.faceStart[face]! + way) as Corner, crossed);
    if (ahead.closed) {
      // The last one is the face itself, come back to from behind.
      const faces = ahead.faces.at(-1) === face ? ahead.faces.slice(0, -1) : ahead.faces;
      return { faces: [face, ...faces], closed: true };
    }
    const behind = walkFrom(mesh, (mesh.faceStart[face]! + way + 2) as Corner, crossed);
    return { faces: [...behind.faces.reverse(), face, ...ahead.faces], closed: false };
  });
}

/**
 * The faces of the row that two faces lie in: all of it where they are neighbours, else those between them by the shorter
 * way, both included. Null where no row leads from one to the other.
 */
export function stripBetween(mesh: PolyMesh, a: Face, b: Face): readonly Face[] | null {
  let best: readonly Face[] | null = null;
  for (const { faces, closed } of isQuad(mesh, a) ? stripsThrough(mesh, a) : stripsThrough(mesh, b)) {
    const [i, j] = [faces.indexOf(a), faces.indexOf(b)];
    if (i < 0 || j < 0) continue;
    const [from, to] = [Math.min(i, j), Math.max(i, j)];
    const inner = faces.slice(from, to + 1);
    const round = closed ? [...faces.slice(to), ...faces.slice(0, from + 1)] : null;
    if (inner.length === 2 || round?.length === 2) return faces;
    const shorter = round && round.length < inner.length ? round : inner;
    if (!best || shorter.length < best.length) best = shorter;
  }
  return best;
}
