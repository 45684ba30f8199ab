import { shapesOf } from "@/core/layout/asset";
import { getBit } from "@/core/layout/bits";
import { structureOf } from "@/core/layout/layout";
import { topologyOf } from "@/core/mesh/topology";
import { layoutOf } from "@/core/operations/scope";
import { facesOfItems } from "../session/selection";
import { useBench } from "../session/store";

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
  for (const shape of asset ? shapesOf(asset) : []) {
    const items = picked.get(shape.id);
    if (what === "selection" && !items) continue;
    const layout = layoutOf(shape, set);
    const s = structureOf(shape.mesh, layout);
    const t = topologyOf(shape.mesh);
    const only = what === "selection" ? facesOfItems(asset!, set, shape.id, items!, kind) : null;
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
