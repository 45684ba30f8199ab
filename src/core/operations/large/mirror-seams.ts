import { type Asset, withLayouts } from "../../layout/asset";
import { type Bits, getBit } from "../../layout/bits";
import type { SymmetryBy } from "../../layout/symmetry-by";
import { UserError } from "../../layout/user-error";
import { edgeImages } from "../../mesh/edge-images";
import type { Edge } from "../../mesh/indices";
import type { PolyMesh } from "../../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../../mesh/topology";
import { symmetryFound } from "../../select/mirrored";
import type { EditResult, Note, Scope } from "../operation";
import { layoutOf, shapesInScope } from "../scope";
import { count } from "../words";
import { withSeams } from "./with-seams";

interface Wanted {
  readonly axis: "x" | "y" | "z";
  readonly from: "positive" | "negative";
  readonly by: SymmetryBy;
}

/** Repeats the seams of one half of a symmetric part on the other. */
export function run(asset: Asset, scope: Scope, wanted: Wanted): EditResult {
  let [cuts, joins, images] = [0, 0, 0];
  const notes: Note[] = [];
  const changes = shapesInScope(asset, scope).flatMap((shape) => {
    const { mesh } = shape;
    const layout = layoutOf(shape, scope.set);
    const found = repeated(mesh, layout.cut, wanted);
    images += found.images;
    if (found.images && found.without)
      notes.push({ words: `${count(found.without, "edge")} of ${shape.name} have no mirror image.`, shells: [] });
    cuts += found.cut.length;
    joins += found.join.length;
    if (!found.cut.length && !found.join.length) return [];
    return [{ shape: shape.id, set: scope.set, layout: withSeams(shape, layout, found) }];
  });
  if (!images) throw new UserError(`Nothing here has another half across ${wanted.axis}.`);
  if (!changes.length) throw new UserError("Both halves have the same seams already.");
  const done = [cuts ? `cut ${count(cuts, "edge")}` : "", joins ? `join ${count(joins, "edge")}` : ""];
  const words = `Mirror seams across ${wanted.axis}: ${done.filter(Boolean).join(", ")}`;
  return { asset: withLayouts(asset, changes), words, notes };
}

/** Which edges of the other half are to be cut, and which joined, for both to have the same seams. */
function repeated(mesh: PolyMesh, cut: Bits, { axis, from, by }: Wanted) {
  const d = "xyz".indexOf(axis);
  const t = topologyOf(mesh);
  const found = symmetryFound(mesh, d, by);
  const image = edgeImages(mesh, found.vertex);
  const p = mesh.positions;
  const place = (e: number) => p[3 * t.edgeVertices[2 * e]! + d]! + p[3 * t.edgeVertices[2 * e + 1]! + d]!;
  const side = from === "positive" ? 1 : -1;
  const out = { cut: [] as number[], join: [] as number[], images: 0, without: 0 };
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    const other = image[e]! as Edge;
    if (other < 0) out.without++;
    // Of two images the one farther along the axis lies on its positive side; the middle line is its own.
    if (other < 0 || other === e || side * (place(e) - place(other)) <= 0) continue;
    out.images++;
    if (edgeFaceCount(t, e) !== 2 || edgeFaceCount(t, other) !== 2 || getBit(cut, e) === getBit(cut, other)) continue;
    out[getBit(cut, e) ? "cut" : "join"].push(other);
  }
  return { ...out, cut: Uint32Array.from(out.cut).sort(), join: Uint32Array.from(out.join).sort() };
}
