import { getBit } from "@/core/layout/bits";
import { structureOf } from "@/core/layout/uv-set";
import { topologyOf } from "@/core/mesh/topology";
import { layoutOf } from "@/core/operations/scope";
import { facesOfItems } from "../bench/selection";
import { useBench } from "../bench/store";

/** Middle of the pane in UV and pixels per tile. */
export interface SheetView {
  readonly u: number;
  readonly v: number;
  readonly scale: number;
}

/** UV box of the picked items, or of everything that has coordinates with the first tile. */
export function uvBox(what: "selection" | "all"): { u0: number; v0: number; u1: number; v1: number } | null {
  const { asset, set, kind, picked } = useBench.getState();
  const box =
    what === "all" ? { u0: 0, v0: 0, u1: 1, v1: 1 } : { u0: Infinity, v0: Infinity, u1: -Infinity, v1: -Infinity };
  for (const part of asset?.parts ?? []) {
    if (part.instanceOf !== undefined) continue;
    const items = picked.get(part.id);
    if (what === "selection" && !items) continue;
    const layout = layoutOf(part, set);
    const s = structureOf(part.mesh, layout);
    const t = topologyOf(part.mesh);
    const only = what === "selection" ? facesOfItems(asset!, set, part.id, items!, kind) : null;
    for (let c = 0; c < s.cornerWedge.length; c++) {
      const f = t.cornerFace[c]!;
      if (!getBit(layout.mapped, f) || (only && !only.has(f))) continue;
      const w = 2 * s.cornerWedge[c]!;
      box.u0 = Math.min(box.u0, layout.uv[w]!);
      box.u1 = Math.max(box.u1, layout.uv[w]!);
      box.v0 = Math.min(box.v0, layout.uv[w + 1]!);
      box.v1 = Math.max(box.v1, layout.uv[w + 1]!);
    }
  }
  return box.u0 <= box.u1 ? box : null;
}
