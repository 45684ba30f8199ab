import { getBit } from "../layout/bits";
import { type Layout, structureOf } from "../layout/layout";
import type { PolyMesh } from "../mesh/poly-mesh";
import { trianglesOf } from "../mesh/triangulate";
import { TriangleTree } from "../numeric/triangle-tree";

/** A mesh with its places and a layout, to be looked up from another. */
export interface Surface {
  readonly mesh: PolyMesh;
  readonly layout: Layout;
  /** 3 per vertex. */
  readonly places: Float64Array;
}

/** Of the way from a corner to the middle of its face: how far inwards it is looked for which side of a seam it is on. */
const INWARDS = 0.02;
/** Of a face's size: how much farther one side may be to count as as near. */
const SAME = 1e-6;

/**
 * Coordinates for faces by the surface nearest to them. A face belongs to the shell nearest to its middle; each corner
 * takes the point of that shell's surface nearest to it, so that no face is torn between two shells.
 *
 * @param faces faces to lay
 * @param places 3 per vertex, in the same space as the surface's
 * @param out 2 per corner; written for the given faces
 */
export function layBySurface(
  surface: Surface,
  mesh: PolyMesh,
  places: Float64Array,
  faces: Iterable<number>,
  out: Float64Array,
): void {
  const s = structureOf(surface.mesh, surface.layout);
  const t = trianglesOf(surface.mesh);
  const tree = new TriangleTree(
    surface.places,
    Uint32Array.from(t.corners, (c) => surface.mesh.cornerVertex[c]!),
  );
  const mapped = (triangle: number) => getBit(surface.layout.mapped, t.face[triangle]!);
  for (const f of faces) {
    const [from, to] = [mesh.faceStart[f]!, mesh.faceStart[f + 1]!];
    const middle = [0, 0, 0];
    for (let c = from; c < to; c++)
      for (let d = 0; d < 3; d++) middle[d]! += places[3 * mesh.cornerVertex[c]! + d]! / (to - from);
    const size = Math.hypot(...[0, 1, 2].map((d) => places[3 * mesh.cornerVertex[from]! + d]! - middle[d]!));
    const home = tree.nearest(middle[0]!, middle[1]!, middle[2]!, mapped);
    if (!home) return;
    const shell = s.faceShell[t.face[home.triangle]!]!;
    const own = (triangle: number) => s.faceShell[t.face[triangle]!] === shell;
    for (let c = from; c < to; c++) {
      const v = 3 * mesh.cornerVertex[c]!;
      // Beside a seam of its own shell a corner lies on both sides: the one towards the middle of the face is meant.
      const towards = [0, 1, 2].map((d) => places[v + d]! + INWARDS * (middle[d]! - places[v + d]!));
      const side = tree.nearest(towards[0]!, towards[1]!, towards[2]!, own)!;
      const there = tree.nearestOn(side.triangle, places[v]!, places[v + 1]!, places[v + 2]!);
      const nearest = tree.nearest(places[v]!, places[v + 1]!, places[v + 2]!, own)!;
      const near = there.distance <= nearest.distance + SAME * size ? there : nearest;
      for (let d = 0; d < 2; d++) {
        const at = (k: number) => surface.layout.uv[2 * s.cornerWedge[t.corners[3 * near.triangle + k]!]! + d]!;
        out[2 * c + d] = near.a * at(0) + near.b * at(1) + near.c * at(2);
      }
    }
  }
}
