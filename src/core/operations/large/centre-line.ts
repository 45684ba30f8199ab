import type { Asset } from "../../layout/asset";
import { makeBits, setBit } from "../../layout/bits";
import { UserError } from "../../layout/user-error";
import type { Edge } from "../../mesh/indices";
import type { PolyMesh } from "../../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../../mesh/topology";
import { worldPositions } from "../../mesh/transform";
import { edgeLengths, edgesSeen } from "../../seams/edge-cost";
import { seenFaces } from "../../tasks/seen-faces";
import { symmetryOf } from "../../transfer/symmetry";
import type { EditContext, EditResult, Scope } from "../operation";
import { count } from "../words";
import { withProposedSeams } from "./proposed-seams";

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
  let lines = 0;
  const proposed = withProposedSeams(asset, scope, ({ id, mesh, metric }) => {
    const line = middleEdges(mesh, "xyz".indexOf(axis));
    lines += line.length;
    const bits = makeBits(topologyOf(mesh).edgeCount);
    const own = seen ? hiddenOf(mesh, worldPositions(mesh, metric), line, seen.get(id)!) : line;
    for (const e of own) setBit(bits, e);
    return bits;
  });
  if (!lines) throw new UserError(`No part here has a line of edges between two halves across ${axis}.`);
  if (!proposed.added) throw new UserError("The centre line is a seam there already.");
  return { asset: proposed.asset, words: `Centre line: ${count(proposed.added, "seam edge")}`, notes: [] };
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
