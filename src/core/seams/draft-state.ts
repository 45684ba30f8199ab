import { type Bits, clearBit, fullBits, makeBits } from "../layout/bits";
import { type Layout, structureOf } from "../layout/layout";
import type { Edge } from "../mesh/indices";
import { faceCount } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import type { Source } from "./piece";
import type { GraphShell, SeamGraph } from "./seam-graph";

/** Seams of a part, with the shells between them. */
export interface State {
  readonly cut: Bits;
  readonly shells: readonly GraphShell[];
}
export const stateOf = (graph: SeamGraph): State => ({ cut: graph.cut.slice(), shells: [...graph.shells.values()] });

/** Mean stretch of the shells of a state, by area. */
export function stretchOf({ shells }: State): number {
  const area = shells.reduce((sum, shell) => sum + shell.area, 0);
  // A face without area has no stretch of its own.
  const stretched = shells.reduce((sum, shell) => sum + (shell.area ? shell.area * shell.energy : 0), 0);
  return area ? stretched / area : 1;
}

/** The layout of a state: shells lie each in its own place, at world size. @param onStep told that the seams are found; throws to stop */
export function layoutOf({ mesh }: Source, { cut, shells }: State, onStep?: (share: number) => void): Layout {
  onStep?.(1);
  const t = topologyOf(mesh);
  for (let e = 0 as Edge; e < t.edgeCount; e++) if (edgeFaceCount(t, e) !== 2) clearBit(cut, e);
  const set = { cut, mapped: fullBits(faceCount(mesh)) };
  const s = structureOf(mesh, set);
  const uv = new Float64Array(2 * s.wedgeCount);
  for (const { faces, cornerUv } of shells) {
    let at = 0;
    for (const f of faces)
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
        uv[2 * s.cornerWedge[c]!] = cornerUv[at++]!;
        uv[2 * s.cornerWedge[c]! + 1] = cornerUv[at++]!;
      }
  }
  return { ...set, uv, pinned: makeBits(s.wedgeCount) };
}

/** Lists of faces as one, ascending. */
export function joined(lists: readonly Uint32Array[]): Uint32Array {
  const out = new Uint32Array(lists.reduce((sum, list) => sum + list.length, 0));
  let at = 0;
  for (const list of lists) {
    out.set(list, at);
    at += list.length;
  }
  return out.sort();
}
