import type { ShapeId } from "../../layout/asset";
import type { ShellRef } from "../../layout/layout";

/** Shells by shape, by their names, as a selection holds them. */
export function shellItems(shells: readonly ShellRef[]): Map<ShapeId, Uint32Array> {
  const lists = new Map<ShapeId, number[]>();
  for (const { shape, face } of shells) {
    const own = lists.get(shape);
    if (own) own.push(face);
    else lists.set(shape, [face]);
  }
  return new Map([...lists].map(([shape, faces]) => [shape, Uint32Array.from(faces).sort()]));
}
