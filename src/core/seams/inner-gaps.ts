import { type Bits, getBit, makeBits, setBit } from "../layout/bits";
import { edgeEnds, isBarrier, type Layout, structureOf } from "../layout/layout";
import type { Edge } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { rootOf, unite } from "../numeric/union-find";
import { edgeLengths } from "./edge-cost";

/** Of the size of a layout in UV: sides of a seam that lie nearer to each other than this are a gap that was left. */
const TOGETHER = 2e-3;

/**
 * Open edges within shells: those round holes, which are all border loops of a shell but its longest, and seams both of
 * whose sides lie in one place of the same shell. In linear time.
 *
 * @param positions 3 per vertex
 */
export function innerGaps(mesh: PolyMesh, layout: Layout, positions: Float64Array): Bits {
  const t = topologyOf(mesh);
  const s = structureOf(mesh, layout);
  const lengths = edgeLengths(mesh, positions);
  const parent = iota(s.wedgeCount);
  const sides: Array<{ edge: Edge; wedge: number; shell: number }> = [];
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (!isBarrier(t, layout, e)) continue;
    for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++) {
      const c = t.edgeCorners[k]!;
      const [a, b] = [s.cornerWedge[c]!, s.cornerWedge[t.cornerNext[c]!]!];
      unite(parent, a, b);
      sides.push({ edge: e, wedge: a, shell: s.faceShell[t.cornerFace[c]!]! });
    }
  }
  const loops = new Map<number, number>();
  for (const { edge, wedge } of sides) {
    const loop = rootOf(parent, wedge);
    loops.set(loop, (loops.get(loop) ?? 0) + lengths[edge]!);
  }
  const outer = new Map<number, number>();
  for (const { wedge, shell } of sides) {
    const loop = rootOf(parent, wedge);
    const best = outer.get(shell);
    if (best === undefined || loops.get(loop)! > loops.get(best)!) outer.set(shell, loop);
  }
  const out = makeBits(t.edgeCount);
  for (const { edge, wedge, shell } of sides) if (rootOf(parent, wedge) !== outer.get(shell)) setBit(out, edge);
  for (const e of slits(mesh, layout)) setBit(out, e);
  return out;
}

/** Seams within a shell whose two sides lie in one place. */
function slits(mesh: PolyMesh, layout: Layout): Edge[] {
  const t = topologyOf(mesh);
  const s = structureOf(mesh, layout);
  const { uv } = layout;
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < uv.length; i++) {
    low = Math.min(low, uv[i]!);
    high = Math.max(high, uv[i]!);
  }
  const near = TOGETHER * (high - low);
  const apart = (c: number, d: number) => {
    const [p, q] = [2 * s.cornerWedge[c]!, 2 * s.cornerWedge[d]!];
    return Math.hypot(uv[p]! - uv[q]!, uv[p + 1]! - uv[q + 1]!);
  };
  const out: Edge[] = [];
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2 || !getBit(layout.cut, e)) continue;
    const [a0, a1, b0, b1] = edgeEnds(mesh, t, e);
    const [f, g] = [t.cornerFace[a0]!, t.cornerFace[b0]!];
    if (s.faceShell[f] !== s.faceShell[g] || !getBit(layout.mapped, f)) continue;
    if (apart(a0, b0) <= near && apart(a1, b1) <= near) out.push(e);
  }
  return out;
}
