import { shapesOf } from "@/core/layout/asset";
import { countBits, getBit } from "@/core/layout/bits";
import { structureOf } from "@/core/layout/layout";
import { pointNames } from "@/core/layout/point-names";
import { faceCount } from "@/core/mesh/poly-mesh";
import { topologyOf } from "@/core/mesh/topology";
import { layoutOf } from "@/core/operations/scope";
import { picksAs } from "../session/selection";
import type { BenchState } from "../session/store";
import type { UvBox } from "./sheet-camera";

/**
 * UV box of the picked items, or of everything that has coordinates with the first tile, where it lies now; null for none.
 */
export function uvBox(
  {
    asset,
    set,
    kind,
    picked,
    live,
  }: Pick<BenchState, "asset" | "set" | "kind" | "picked"> & Partial<Pick<BenchState, "live">>,
  what: "selection" | "all",
): UvBox | null {
  let [u0, v0, u1, v1] = what === "all" ? [0, 0, 1, 1] : [Infinity, Infinity, -Infinity, -Infinity];
  for (const shape of asset ? shapesOf(asset) : []) {
    const items = picked.get(shape.id);
    if (what === "selection" && !items) continue;
    const layout = layoutOf(shape, set);
    const uv = live?.get(shape.id) ?? layout.uv;
    const s = structureOf(shape.mesh, layout);
    const { cornerFace } = topologyOf(shape.mesh);
    if (what === "all" && countBits(layout.mapped) === faceCount(shape.mesh)) {
      for (let w = 0; w < uv.length; w += 2) {
        const u = uv[w]!;
        const v = uv[w + 1]!;
        if (u < u0) u0 = u;
        if (u > u1) u1 = u;
        if (v < v0) v0 = v;
        if (v > v1) v1 = v;
      }
      continue;
    }
    const points = what === "selection" && kind === "points" ? { items: items!, names: pointNames(s) } : null;
    const only = what === "selection" ? picksAs(asset!, set, shape.id, items!, kind, "faces") : null;
    for (let c = 0; c < s.cornerWedge.length; c++) {
      const f = cornerFace[c]!;
      if (!getBit(layout.mapped, f) || (only && !only.has(f))) continue;
      if (points && !points.items.has(points.names[s.cornerWedge[c]!]!)) continue;
      const w = 2 * s.cornerWedge[c]!;
      u0 = Math.min(u0, uv[w]!);
      u1 = Math.max(u1, uv[w]!);
      v0 = Math.min(v0, uv[w + 1]!);
      v1 = Math.max(v1, uv[w + 1]!);
    }
  }
  return u0 <= u1 ? { u0, v0, u1, v1 } : null;
}
