import type { PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { getBit } from "./bits";
import { isBarrier, type Layout, structureOf } from "./layout";

/** Borders of every shell of a shape: 4 numbers a segment, as its corners run. Shells without coordinates have none. */
export function shellBorders(mesh: PolyMesh, layout: Layout): Float64Array[] {
  const s = structureOf(mesh, layout);
  const t = topologyOf(mesh);
  const { uv } = layout;
  const out: number[][] = Array.from({ length: s.shellCount }, () => []);
  for (let c = 0; c < mesh.cornerVertex.length; c++) {
    const f = t.cornerFace[c]!;
    if (!getBit(layout.mapped, f) || !isBarrier(t, layout, t.cornerEdge[c]!)) continue;
    const a = s.cornerWedge[c]!;
    const b = s.cornerWedge[t.cornerNext[c]!]!;
    out[s.faceShell[f]!]!.push(uv[2 * a]!, uv[2 * a + 1]!, uv[2 * b]!, uv[2 * b + 1]!);
  }
  return out.map((list) => Float64Array.from(list));
}
