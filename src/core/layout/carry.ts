import type { Edge } from "../mesh/indices";
import { cornerCount, type PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, type Topology, topologyOf } from "../mesh/topology";
import { getBit, makeBits, setBit } from "./bits";
import { type Layout, layoutFromCorners, structureOf, withBits } from "./layout";

/** A layout to take from, and the corner of its mesh that each corner of the other mesh was; -1 for none. */
export interface CarryFrom {
  readonly mesh: PolyMesh;
  readonly layout: Layout;
  readonly corner: Int32Array;
}

/**
 * Brings layouts over to another mesh by its corners: points, pins, seams (those that separate nothing as well) and
 * which faces have coordinates. Where neighbouring corners bring different points, a seam is set.
 *
 * @param to the mesh to lay
 * @param sources each corner is taken from the first that has it
 */
export function carryLayouts(to: PolyMesh, sources: readonly CarryFrom[]): Layout {
  const cornerUv = new Float64Array(2 * cornerCount(to)).fill(Number.NaN);
  for (const { mesh, layout, corner } of sources) {
    const { cornerFace } = topologyOf(mesh);
    const { cornerWedge } = structureOf(mesh, layout);
    for (let c = 0; c < corner.length; c++) {
      const from = corner[c]!;
      if (from < 0 || !Number.isNaN(cornerUv[2 * c]!) || !getBit(layout.mapped, cornerFace[from]!)) continue;
      cornerUv[2 * c] = layout.uv[2 * cornerWedge[from]!]!;
      cornerUv[2 * c + 1] = layout.uv[2 * cornerWedge[from]! + 1]!;
    }
  }
  const carried = layoutFromCorners(to, cornerUv);
  const cut = carried.cut.slice();
  const t = topologyOf(to);
  for (const source of sources) {
    const from = topologyOf(source.mesh);
    for (let e = 0 as Edge; e < t.edgeCount; e++)
      if (edgeFaceCount(t, e) === 2 && !getBit(cut, e) && wasCut(t, e, from, source)) setBit(cut, e);
  }
  return withPins(to, withBits(to, carried, cut), sources);
}

function wasCut(t: Topology, e: number, from: Topology, { layout, corner }: CarryFrom): boolean {
  for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++) {
    const c = t.edgeCorners[k]!;
    const a = corner[c]!;
    const b = corner[t.cornerNext[c]!]!;
    if (a < 0 || b < 0) continue;
    // A face that was turned over runs along its edges the other way.
    const edge = from.cornerNext[a] === b ? from.cornerEdge[a]! : from.cornerNext[b] === a ? from.cornerEdge[b]! : -1;
    if (edge >= 0 && getBit(layout.cut, edge)) return true;
  }
  return false;
}

function withPins(to: PolyMesh, carried: Layout, sources: readonly CarryFrom[]): Layout {
  const s = structureOf(to, carried);
  const pinned = makeBits(s.wedgeCount);
  for (const { mesh, layout, corner } of sources) {
    if (!layout.pinned.some(Boolean)) continue;
    const { cornerWedge } = structureOf(mesh, layout);
    for (let c = 0; c < corner.length; c++)
      if (corner[c]! >= 0 && getBit(layout.pinned, cornerWedge[corner[c]!]!)) setBit(pinned, s.cornerWedge[c]!);
  }
  return { ...carried, pinned };
}

export const carryLayout = (from: PolyMesh, layout: Layout, to: PolyMesh, corner: Int32Array): Layout =>
  carryLayouts(to, [{ mesh: from, layout, corner }]);
