import type { PlacedShape } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { carryLayouts } from "../../layout/carry";
import type { Layout } from "../../layout/layout";
import type { PolyMesh } from "../../mesh/poly-mesh";

/** A layout with some faces as they lie in another layout of the same mesh. */
export function withFacesFrom(mesh: PolyMesh, own: Layout, other: Layout, faces: Uint32Array): Layout {
  const taken = new Int32Array(mesh.cornerVertex.length).fill(-1);
  for (const f of faces) for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) taken[c] = c;
  const rest = taken.map((c, i) => (c < 0 ? i : -1));
  return carryLayouts(mesh, [
    { mesh, layout: other, corner: taken },
    { mesh, layout: own, corner: rest },
  ]);
}

/** Faces that one layout lays and the other does not. */
export function unlaidFaces(shape: PlacedShape, own: Layout, other: Layout): Uint32Array {
  const faces: number[] = [];
  for (let f = 0; f + 1 < shape.mesh.faceStart.length; f++)
    if (!getBit(own.mapped, f) && getBit(other.mapped, f)) faces.push(f);
  return Uint32Array.from(faces);
}
