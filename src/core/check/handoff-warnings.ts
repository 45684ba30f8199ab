import { type Asset, layoutParts } from "../layout/asset";
import { getBit } from "../layout/bits";
import { edgeEnds, structureOf } from "../layout/uv-set";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { stretchOf, sumShells } from "./distortion";
import { gather } from "./gather";

/** Seam edges whose two sides lie on one another: a file of coordinates cannot tell them from edges that are joined. */
export function seamsNotWritable(asset: Asset, set: number): number {
  let count = 0;
  for (const part of layoutParts(asset)) {
    const layout = part.uvSets[set];
    if (!layout) continue;
    const t = topologyOf(part.mesh);
    const s = structureOf(part.mesh, layout);
    const same = (a: number, b: number) => {
      const [p, q] = [2 * s.cornerWedge[a]!, 2 * s.cornerWedge[b]!];
      return layout.uv[p] === layout.uv[q] && layout.uv[p + 1] === layout.uv[q + 1];
    };
    for (let e = 0; e < t.edgeCount; e++) {
      if (edgeFaceCount(t, e) !== 2 || !getBit(layout.cut, e)) continue;
      const [a0, a1, b0, b1] = edgeEnds(part.mesh, t, e);
      if (same(a0, b0) && same(a1, b1)) count++;
    }
  }
  return count;
}

/** Triangles that flip, or lose their area, when coordinates are rounded to single precision, as glTF holds them. */
export function flipsInSinglePrecision(asset: Asset, set: number): number {
  const g = gather(asset, set);
  const before = stretchOf(g);
  const { majority } = sumShells(g, g.shells.length, before);
  const after = stretchOf({ ...g, q: g.q.map((x) => Math.fround(x)) });
  let count = 0;
  for (let t = 0; t < g.count; t++) {
    const own = majority[g.shell[t]!]!;
    if (before.sign[t]! * own > 0 && after.uvArea[t]! * own <= 0) count++;
  }
  return count;
}
