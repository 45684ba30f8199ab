import type { Asset, PlacedShape } from "../layout/asset";
import { getBit } from "../layout/bits";
import { type Layout, structureOf } from "../layout/layout";
import { pointNames } from "../layout/point-names";
import { UserError } from "../layout/user-error";
import { converted } from "../select/convert";
import { elementCount, flagsAt } from "../select/grow";
import type { Scope } from "./operation";
import { layoutOf, shapesInScope } from "./scope";

/** A shape with its picked UV points: 1 by wedge for those that have coordinates. */
export interface PickedPoints {
  readonly shape: PlacedShape;
  readonly layout: Layout;
  readonly picked: Uint8Array;
}

/** The UV points that are picked, or lie at what is picked. @throws UserError where there are none */
export function pickedPoints(asset: Asset, scope: Scope): PickedPoints[] {
  const { selection } = scope;
  if (!selection) throw new UserError("Pick UV points first.");
  const out = shapesInScope(asset, scope).flatMap((shape): PickedPoints[] => {
    const { mesh } = shape;
    const layout = layoutOf(shape, scope.set);
    const flags = flagsAt(selection.items.get(shape.id)!, elementCount(mesh, selection.kind));
    const corners = converted(mesh, layout, selection.kind, flags, "points", "touching");
    const s = structureOf(mesh, layout);
    const mapped = mappedWedges(shape, layout);
    const picked = Uint8Array.from(pointNames(s), (c, w) => corners[c]! & mapped[w]!);
    return picked.some(Boolean) ? [{ shape, layout, picked }] : [];
  });
  if (!out.length) throw new UserError("What is picked has no coordinates yet: unfold it first.");
  return out;
}

/** 1 for every wedge of a face that has coordinates. */
function mappedWedges({ mesh }: PlacedShape, layout: Layout): Uint8Array {
  const { cornerWedge, wedgeCount } = structureOf(mesh, layout);
  const out = new Uint8Array(wedgeCount);
  for (let f = 0; f + 1 < mesh.faceStart.length; f++)
    if (getBit(layout.mapped, f))
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) out[cornerWedge[c]!] = 1;
  return out;
}
