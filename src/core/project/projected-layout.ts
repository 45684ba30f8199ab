import { type Bits, clearBit, getBit, makeBits, setBit } from "../layout/bits";
import { edgeEndsInto, type Layout, structureOf, withBits } from "../layout/layout";
import { wedgesOfShell } from "../layout/shell-points";
import type { Edge, Shell } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";

/** A layout in which some faces have new coordinates, and their shells. */
export interface ProjectedLayout {
  readonly layout: Layout;
  readonly shells: ReadonlyArray<{
    readonly shell: Shell;
    readonly wedges: Uint32Array;
    /** 2 per wedge, as they were projected. */
    readonly uv: Float64Array;
  }>;
}

/**
 * A layout with some faces as they were projected: they are parted from all others, and from each other where their
 * coordinates differ. No other shell moves.
 *
 * @param cornerUv 2 per corner of the mesh; NaN for faces that stay as they are
 * @param keep seams between the faces that stay seams although nothing differs there
 */
export function projectedLayout(mesh: PolyMesh, layout: Layout, cornerUv: Float64Array, keep: Bits): ProjectedLayout {
  const t = topologyOf(mesh);
  const fresh = (corner: number): boolean => !Number.isNaN(cornerUv[2 * corner]!);
  const cut = layout.cut.slice();
  const mapped = layout.mapped.slice();
  for (let f = 0; f + 1 < mesh.faceStart.length; f++) if (fresh(mesh.faceStart[f]!)) setBit(mapped, f);
  const ends = new Uint32Array(4);
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2) continue;
    edgeEndsInto(mesh, t, e, ends);
    const a = fresh(ends[0]!);
    const b = fresh(ends[2]!);
    if (!a && !b) continue;
    const isSeam =
      a !== b || getBit(keep, e) || differs(cornerUv, ends[0]!, ends[2]!) || differs(cornerUv, ends[1]!, ends[3]!);
    if (isSeam) setBit(cut, e);
    else clearBit(cut, e);
  }
  const parted = withBits(mesh, layout, cut, mapped);
  const s = structureOf(mesh, parted);
  const uv = parted.uv.slice();
  const pinned = parted.pinned.some(Boolean) ? parted.pinned.slice() : parted.pinned;
  const isLaid = new Uint8Array(s.shellCount);
  for (let c = 0; c < mesh.cornerVertex.length; c++) {
    if (!fresh(c)) continue;
    const w = s.cornerWedge[c]!;
    uv[2 * w] = cornerUv[2 * c]!;
    uv[2 * w + 1] = cornerUv[2 * c + 1]!;
    if (getBit(pinned, w)) clearBit(pinned, w);
    isLaid[s.faceShell[t.cornerFace[c]!]!] = 1;
  }
  const laid = { ...parted, uv, pinned };
  const shells = [...iota(s.shellCount).filter((shell) => isLaid[shell])].map((shell) => {
    const wedges = wedgesOfShell(mesh, laid, shell as Shell);
    const points = new Float64Array(2 * wedges.length);
    for (let i = 0; i < wedges.length; i++) {
      points[2 * i] = uv[2 * wedges[i]!]!;
      points[2 * i + 1] = uv[2 * wedges[i]! + 1]!;
    }
    return { shell: shell as Shell, wedges, uv: points };
  });
  return { layout: laid, shells };
}

/** Rounding, against the size of coordinates. */
const SAME = 1e-9;

function differs(uv: Float64Array, a: number, b: number): boolean {
  for (let d = 0; d < 2; d++) {
    const x = uv[2 * a + d]!;
    const y = uv[2 * b + d]!;
    if (Math.abs(x - y) > SAME * (1 + Math.abs(x) + Math.abs(y))) return true;
  }
  return false;
}

/** Seams between faces of some shells; nothing of others. */
export function seamsWithin(mesh: PolyMesh, layout: Layout, inside: Uint8Array): Bits {
  const t = topologyOf(mesh);
  const out = makeBits(t.edgeCount);
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (!getBit(layout.cut, e) || edgeFaceCount(t, e) !== 2) continue;
    const k = t.edgeCornerStart[e]!;
    if (inside[t.cornerFace[t.edgeCorners[k]!]!] && inside[t.cornerFace[t.edgeCorners[k + 1]!]!]) setBit(out, e);
  }
  return out;
}
