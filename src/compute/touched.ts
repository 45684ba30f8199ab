import type { ShapeId, UvSetId } from "../core/layout/asset";
import type { AssetDelta } from "../core/layout/delta";

/** Shapes whose mesh or layouts a change brings, and the sets in which they are drawn. */
export function touched(delta: AssetDelta, set: UvSetId): Map<ShapeId, { mesh: boolean; sets: UvSetId[] }> {
  const out = new Map<ShapeId, { mesh: boolean; sets: UvSetId[] }>();
  for (const { id } of delta.shapes) out.set(id, { mesh: true, sets: [set] });
  for (const l of delta.layouts) {
    const known = out.get(l.shape) ?? { mesh: false, sets: [] };
    if (!known.sets.includes(l.set)) known.sets.push(l.set);
    out.set(l.shape, known);
  }
  return out;
}
