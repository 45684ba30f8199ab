import type { Shell } from "../mesh/indices";
import { faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { type Asset, shapesOf, type UvSetId } from "./asset";
import { getBit } from "./bits";
import { emptyLayout, facesOfShell, isBarrier, type Layout, structureOf } from "./layout";
import { isMapped } from "./shell-points";

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
  const lines = new Lines();
  for (const { id, mesh, layouts } of shapesOf(after)) {
    const [old, now] = [before.shapes.get(id)?.layouts.get(set) ?? emptyLayout(mesh), layouts.get(set)];
    if (now && now !== old)
      for (const shell of changedShells(mesh, old, now)) lines.addShell(mesh, now, shell as Shell);
  }
  return lines.found();
}

/** The edges of all shells of a layout that have coordinates. */
export function layoutLines(mesh: PolyMesh, layout: Layout): SheetLines {
  const lines = new Lines();
  for (let shell = 0 as Shell; shell < structureOf(mesh, layout).shellCount; shell++)
    if (isMapped(mesh, layout, shell)) lines.addShell(mesh, layout, shell);
  return lines.found();
}

class Lines {
  private readonly borders: number[] = [];
  private readonly inner: number[] = [];

  addShell(mesh: PolyMesh, layout: Layout, shell: Shell): void {
    const { borders, inner } = this;
    const s = structureOf(mesh, layout);
    const t = topologyOf(mesh);
    const { uv } = layout;
    for (const f of facesOfShell(s, shell))
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
        const a = 2 * s.cornerWedge[c]!;
        const b = 2 * s.cornerWedge[t.cornerNext[c]!]!;
        const isBorder = isBarrier(t, layout, t.cornerEdge[c]!);
        // An edge within is met from both its sides: it is drawn once, and not at all where they are too many.
        if (!isBorder && (a > b || inner.length > 4 * MOST_INNER)) continue;
        (isBorder ? borders : inner).push(uv[a]!, uv[a + 1]!, uv[b]!, uv[b + 1]!);
      }
  }

  found(): SheetLines {
    return {
      borders: Float32Array.from(this.borders),
      inner: this.inner.length > 4 * MOST_INNER ? new Float32Array(0) : Float32Array.from(this.inner),
    };
  }
}

/** Shells of a layout that lay otherwise, or not at all, in one before it. */
function changedShells(mesh: PolyMesh, old: Layout, now: Layout): Uint32Array {
  const was = structureOf(mesh, old);
  const is = structureOf(mesh, now);
  const changed = new Uint8Array(is.shellCount);
  for (let f = 0; f < faceCount(mesh); f++) {
    const shell = is.faceShell[f]!;
    if (changed[shell] || !getBit(now.mapped, f)) continue;
    if (!getBit(old.mapped, f)) changed[shell] = 1;
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const a = 2 * was.cornerWedge[c]!;
      const b = 2 * is.cornerWedge[c]!;
      if (old.uv[a] !== now.uv[b] || old.uv[a + 1] !== now.uv[b + 1]) changed[shell] = 1;
    }
  }
  return iota(changed.length).filter((shell) => changed[shell]);
}
