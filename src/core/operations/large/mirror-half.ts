import type { Asset } from "../../layout/asset";
import { withLayouts } from "../../layout/asset";
import { carryLayouts } from "../../layout/carry";
import type { Layout } from "../../layout/layout";
import { UserError } from "../../layout/user-error";
import type { PolyMesh } from "../../mesh/poly-mesh";
import { symmetryOf } from "../../transfer/symmetry";
import { turnedOver } from "../../transfer/turned-over";
import type { EditResult, Note, Scope } from "../operation";
import { layoutOf, shapesInScope } from "../scope";
import { count } from "../words";

/** Copies the layout of one half of a symmetric part to the other. */
export function run(
  asset: Asset,
  scope: Scope,
  {
    axis,
    from,
    place,
  }: { readonly axis: "x" | "y" | "z"; readonly from: "positive" | "negative"; readonly place: "beside" | "on top" },
): EditResult {
  const d = "xyz".indexOf(axis);
  const notes: Note[] = [];
  let total = 0;
  const changes = shapesInScope(asset, scope).flatMap((shape) => {
    if (!shape.layouts.get(scope.set)) return [];
    const layout = layoutOf(shape, scope.set);
    const made = mirrored(shape.mesh, layout, d, from === "positive" ? 1 : -1, place === "beside");
    if (made.missing)
      notes.push({
        words: `${count(made.missing, "face")} of ${shape.name} have no mirror image and stay as they are.`,
        shells: [],
      });
    total += made.faces;
    return made.faces ? [{ shape: shape.id, set: scope.set, layout: made.layout }] : [];
  });
  if (!total) throw new UserError(`No mapped face has a mirror image across ${axis}.`);
  return { asset: withLayouts(asset, changes), words: `Mirror ${count(total, "face")} across ${axis}`, notes };
}

function mirrored(mesh: PolyMesh, layout: Layout, d: number, side: number, beside: boolean) {
  const { vertex, face, at } = symmetryOf(mesh, d);
  const corner = Int32Array.from({ length: mesh.cornerVertex.length }, (_, c) => c);
  const moved = new Uint8Array(mesh.cornerVertex.length);
  let [faces, missing] = [0, 0];
  for (let f = 0; f + 1 < mesh.faceStart.length; f++) {
    const [from, to] = [mesh.faceStart[f]!, mesh.faceStart[f + 1]!];
    let middle = 0;
    for (let c = from; c < to; c++) middle += mesh.positions[3 * mesh.cornerVertex[c]! + d]! / (to - from);
    if (side * (middle - at) >= 0) continue;
    const source = face[f]!;
    if (source < 0 || source === f) {
      missing++;
      continue;
    }
    faces++;
    for (let c = from; c < to; c++) {
      const image = vertex[mesh.cornerVertex[c]!]!;
      for (let k = mesh.faceStart[source]!; k < mesh.faceStart[source + 1]!; k++)
        if (mesh.cornerVertex[k] === image) corner[c] = k;
      moved[c] = 1;
    }
  }
  const own = Uint8Array.from(vertex, (image, v) => (image === v ? 1 : 0));
  const other = beside ? turnedOver(mesh, layout, own) : layout;
  const taken = corner.map((k, c) => (moved[c] ? k : -1));
  const rest = corner.map((k, c) => (moved[c] ? -1 : k));
  const carried = carryLayouts(mesh, [
    { mesh, layout: other, corner: taken },
    { mesh, layout, corner: rest },
  ]);
  return { layout: carried, faces, missing };
}
