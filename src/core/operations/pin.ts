import { z } from "zod";
import { type PlacedShape, withLayouts } from "../layout/asset";
import { clearBit, getBit, setBit } from "../layout/bits";
import { type Layout, structureOf } from "../layout/layout";
import { pointNames } from "../layout/point-names";
import { UserError } from "../layout/user-error";
import { topologyOf } from "../mesh/topology";
import type { EditOperation, Scope } from "./operation";
import { facesInScope, layoutOf } from "./scope";
import { count } from "./words";

/** Mapped wedges that the scope means: picked UV points, those at picked vertices and edges, or all of picked faces and shells. */
function wedgesInScope(shape: PlacedShape, layout: Layout, faces: Uint32Array, scope: Scope): Set<number> {
  const { mesh } = shape;
  const s = structureOf(mesh, layout);
  const t = topologyOf(mesh);
  const kind = scope.selection?.kind;
  const names = pointNames(s);
  const items = new Set(scope.selection?.items.get(shape.id));
  const meant = (c: number, before: number): boolean => {
    if (kind === "points") return items.has(names[s.cornerWedge[c]!]!);
    if (kind === "vertices") return items.has(mesh.cornerVertex[c]!);
    if (kind === "edges") return items.has(t.cornerEdge[c]!) || items.has(t.cornerEdge[before]!);
    return true;
  };
  const out = new Set<number>();
  for (const f of faces) {
    if (!getBit(layout.mapped, f)) continue;
    const [from, to] = [mesh.faceStart[f]!, mesh.faceStart[f + 1]!];
    for (let c = from; c < to; c++) if (meant(c, c === from ? to - 1 : c - 1)) out.add(s.cornerWedge[c]!);
  }
  return out;
}

function pinning(plan: Pick<EditOperation<object>, "id" | "title" | "about" | "key">, pin: boolean, nothing: string) {
  const operation: EditOperation<Record<string, never>> = {
    ...plan,
    kind: "edit",
    stage: "unfold",
    moves: false,
    fits: ["vertices", "points"],
    heading: "Pins",
    acts: "faces",
    picks: true,
    ...(pin ? {} : { movesPins: true }),
    options: z.object({}),
    run(asset, scope) {
      if (!scope.selection && !scope.picked) throw new UserError("Pick points, faces or shells first.");
      let total = 0;
      const changes = facesInScope(asset, scope).flatMap(({ shape, faces }) => {
        const layout = layoutOf(shape, scope.set);
        const pinned = layout.pinned.slice();
        let changed = 0;
        for (const w of wedgesInScope(shape, layout, faces, scope)) {
          if (getBit(pinned, w) === pin) continue;
          if (pin) setBit(pinned, w);
          else clearBit(pinned, w);
          changed++;
        }
        total += changed;
        return changed ? [{ shape: shape.id, set: scope.set, layout: { ...layout, pinned } }] : [];
      });
      if (!total) throw new UserError(nothing);
      return { asset: withLayouts(asset, changes), words: `${plan.title} ${count(total, "point")}`, notes: [] };
    },
  };
  return operation;
}

/** Keeps points of the layout where they are. */
export const pin = pinning(
  {
    id: "pin",
    title: "Pin",
    key: "shift+N",
    about:
      "Keeps the picked points of the layout where they are, whatever is done to their shells; picked shells stay whole.",
  },
  true,
  "These points are pinned already, or have no coordinates.",
);

/** Lets pinned points move again. */
export const unpin = pinning(
  { id: "unpin", title: "Unpin", about: "Lets the picked points of the layout move again." },
  false,
  "None of these points is pinned.",
);
