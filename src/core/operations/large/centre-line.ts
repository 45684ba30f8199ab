import { type Asset, withLayouts } from "../../layout/asset";
import { getBit, setBit } from "../../layout/bits";
import { withBits } from "../../layout/layout";
import { UserError } from "../../layout/user-error";
import type { Edge } from "../../mesh/indices";
import type { PolyMesh } from "../../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../../mesh/topology";
import { worldPositions } from "../../mesh/transform";
import { edgeLengths, edgesSeen } from "../../seams/edge-cost";
import { seenFaces } from "../../tasks/seen-faces";
import { symmetryOf } from "../../transfer/symmetry";
import type { EditContext, EditResult, Scope } from "../operation";
import { layoutOf, shapesInScope } from "../scope";
import { count } from "../words";

interface Wanted {
  readonly axis: "x" | "y" | "z";
  readonly where: "hidden sides" | "all round";
}

/** Cuts symmetric parts along the line in which their halves meet. */
export async function run(
  asset: Asset,
  scope: Scope,
  { axis, where }: Wanted,
  context: EditContext,
): Promise<EditResult> {
  const seen = where === "hidden sides" ? await seenFaces(asset, context, context.progress) : null;
  let [total, lines] = [0, 0];
  const changes = shapesInScope(asset, scope).flatMap((shape) => {
    const { mesh } = shape;
    const line = middleEdges(mesh, "xyz".indexOf(axis));
    lines += line.length;
    const own = seen ? hiddenOf(mesh, worldPositions(mesh, shape.metric), line, seen.get(shape.id)!) : line;
    const layout = layoutOf(shape, scope.set);
    const fresh = own.filter((e) => !getBit(layout.cut, e));
    if (!fresh.length) return [];
    total += fresh.length;
    const cut = layout.cut.slice();
    for (const e of fresh) setBit(cut, e);
    return [{ shape: shape.id, set: scope.set, layout: withBits(mesh, layout, cut) }];
  });
  if (!lines) throw new UserError(`No part here has a line of edges between two halves across ${axis}.`);
  if (!total) throw new UserError("The centre line is a seam there already.");
  return { asset: withLayouts(asset, changes), words: `Centre line: ${count(total, "seam edge")}`, notes: [] };
}

/** Edges whose ends are their own mirror images, between two faces that are each other's. */
function middleEdges(mesh: PolyMesh, axis: number): Edge[] {
  const t = topologyOf(mesh);
  const { vertex, face } = symmetryOf(mesh, axis);
  const out: Edge[] = [];
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    const [a, b] = [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!];
    if (edgeFaceCount(t, e) !== 2 || vertex[a] !== a || vertex[b] !== b) continue;
    const k = t.edgeCornerStart[e]!;
    const [f, g] = [t.cornerFace[t.edgeCorners[k]!]!, t.cornerFace[t.edgeCorners[k + 1]!]!];
    if (face[f] === g) out.push(e);
  }
  return out;
}

/** Those of some edges that are seen less than they are on average. */
function hiddenOf(mesh: PolyMesh, world: Float64Array, edges: readonly Edge[], seen: Float32Array): Edge[] {
  const openness = edgesSeen(topologyOf(mesh), seen);
  const lengths = edgeLengths(mesh, world);
  let [sum, length] = [0, 0];
  for (const e of edges) {
    sum += openness[e]! * lengths[e]!;
    length += lengths[e]!;
  }
  return edges.filter((e) => openness[e]! * length < sum);
}
