import type { Shell } from "../mesh/indices";
import { topologyOf } from "../mesh/topology";
import { type Asset, shapesOf, type UvSetId } from "./asset";
import { getBit } from "./bits";
import { emptyLayout, facesOfShell, isBarrier, structureOf } from "./layout";

/** Edges of shells as they lie on the sheet, 4 numbers each: u and v of both ends. */
export interface SheetLines {
  readonly borders: Float32Array;
  /** Edges within shells; none where they would be too many to be told apart. */
  readonly inner: Float32Array;
}

/** Edges within shells up to which they are drawn. */
const MOST_INNER = 30_000;

/** The edges of all shells that lie otherwise in one state of an asset than they did in another. */
export function changedLines(before: Asset, after: Asset, set: UvSetId): SheetLines {
  const borders: number[] = [];
  const inner: number[] = [];
  for (const { id, mesh, layouts } of shapesOf(after)) {
    const [old, now] = [before.shapes.get(id)?.layouts.get(set) ?? emptyLayout(mesh), layouts.get(set)];
    if (!now || now === old) continue;
    const [was, is] = [structureOf(mesh, old), structureOf(mesh, now)];
    const t = topologyOf(mesh);
    const changed = new Set<Shell>();
    for (let c = 0; c < mesh.cornerVertex.length; c++) {
      const [a, b] = [2 * was.cornerWedge[c]!, 2 * is.cornerWedge[c]!];
      const f = t.cornerFace[c]!;
      const isMoved = old.uv[a] !== now.uv[b] || old.uv[a + 1] !== now.uv[b + 1];
      if ((isMoved || !getBit(old.mapped, f)) && getBit(now.mapped, f)) changed.add(is.faceShell[f]!);
    }
    for (const shell of changed)
      for (const f of facesOfShell(is, shell))
        for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
          const [a, b] = [2 * is.cornerWedge[c]!, 2 * is.cornerWedge[t.cornerNext[c]!]!];
          const isBorder = isBarrier(t, now, t.cornerEdge[c]!);
          // An edge within is met from both its sides: it is drawn once.
          if (!isBorder && a > b) continue;
          (isBorder ? borders : inner).push(now.uv[a]!, now.uv[a + 1]!, now.uv[b]!, now.uv[b + 1]!);
        }
  }
  return {
    borders: Float32Array.from(borders),
    inner: inner.length > 4 * MOST_INNER ? new Float32Array(0) : Float32Array.from(inner),
  };
}
