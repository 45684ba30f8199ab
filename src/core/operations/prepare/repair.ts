import { z } from "zod";
import { type Asset, mapShapes, type PlacedShape } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { type FaultKind, findFaults } from "../../prepare/faults";
import type { EditOperation, EditResult, Scope } from "../operation";
import { shapesInScope } from "../scope";
import { count } from "../words";

/** Repairs of meshes, loaded when one is first run. */
export type Repairs = typeof import("../../prepare/repairs");
/** The culprits of one kind on a part. */
export type Culprits = (kind: FaultKind) => Uint32Array | undefined;

/**
 * Mends the parts meant and tells of it.
 *
 * @param mend returns the part itself where there is nothing to mend
 * @param words what was done, by the number of parts mended
 * @throws UserError when nothing was to be mended
 */
export async function mendParts(
  asset: Asset,
  scope: Scope,
  mend: (repairs: Repairs, shape: PlacedShape, culprits: Culprits) => PlacedShape,
  nothing: string,
  words: (parts: number) => string,
): Promise<EditResult> {
  const repairs = await import("../../prepare/repairs");
  const parts = shapesInScope(asset, scope);
  const faults = findFaults(asset, new Set(parts.map((p) => p.id)));
  const mended = new Map<string, PlacedShape>();
  for (const shape of parts) {
    const next = mend(repairs, shape, (kind) => faults.get(kind)?.get(shape.id));
    if (next !== shape) mended.set(shape.id, next);
  }
  if (!mended.size) throw new UserError(nothing);
  return { asset: mapShapes(asset, (s) => mended.get(s.id) ?? s), words: words(mended.size), notes: [] };
}

/** A repair that has no options: what it is called, how it mends a part, and what it says when there was nothing to mend. */
export function repairOperation(plan: {
  id: string;
  title: string;
  about: string;
  nothing: string;
  mends: EditOperation<Record<string, never>>["mends"] & {};
  mend: (repairs: Repairs, shape: PlacedShape, culprits: Culprits) => PlacedShape;
}): EditOperation<Record<string, never>> {
  const { mend, nothing, ...result } = plan;
  return {
    ...result,
    kind: "edit",
    stage: "brief",
    acts: "parts",
    big: true,
    options: z.object({}),
    run: (asset, scope) =>
      mendParts(asset, scope, mend, nothing, (parts) => `${plan.title} on ${count(parts, "part")}`),
  };
}
