import { across, type Form, faceNormals, regionsOf } from "./form";

/** Of all area: regions that are smaller go to a neighbour that they face as well. */
const SCRAP = 0.01;
/** The cosine at which a face still faces a side well enough to go there. */
const FACES = 0.2;
/** By how much a side has to be faced better than one before it: faces between two sides all go to the same. */
const BETTER = 1e-6;

/**
 * The side of a box that each face of a form faces most, scraps joined to what they lie beside.
 *
 * @param sides that there are: 0 to 5 for +x, -x, +y, -y, +z, -z @returns by face of the mesh
 */
export function boxSides(form: Form, sides: readonly number[]): Uint8Array {
  const { faces } = form;
  const { normals, areas } = faceNormals(form);
  const out = new Uint8Array(form.inside.length);
  const faced = (f: number, side: number) => (side % 2 ? -1 : 1) * normals[3 * f + (side >> 1)]!;
  let total = 0;
  for (const f of faces) {
    total += areas[f]!;
    let best = sides[0]!;
    for (const side of sides) if (faced(f, side) > faced(f, best) + BETTER) best = side;
    out[f] = best;
  }
  for (const region of regionsOf(form, out)) {
    let area = 0;
    for (const f of region) area += areas[f]!;
    if (area >= SCRAP * total) continue;
    const to = sideBeside(form, region, out, (f, side) => faced(f, side) > FACES);
    if (to >= 0) for (const f of region) out[f] = to;
  }
  return out;
}

/** The side of the faces along most edges of a region that all of it faces well enough; -1 where there is none. */
function sideBeside(
  form: Form,
  region: Uint32Array,
  sides: Uint8Array,
  faces: (face: number, side: number) => boolean,
): number {
  const { mesh, topology: t } = form;
  const edges = new Uint32Array(6);
  for (const f of region)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const mate = across(form, c);
      if (mate < 0) continue;
      const side = sides[t.cornerFace[mate]!]!;
      if (side !== sides[f] && region.every((g) => faces(g, side))) edges[side]!++;
    }
  const best = edges.reduce((at, count, side) => (count > edges[at]! ? side : at), 0);
  return edges[best]! > 0 ? best : -1;
}
