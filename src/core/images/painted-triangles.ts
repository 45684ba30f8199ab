import type { PlacedShape, UvSetId } from "../layout/asset";
import { getBit } from "../layout/bits";
import { type Layout, structureOf } from "../layout/layout";
import { trianglesOf } from "../mesh/triangulate";
import { GrowableArray } from "../numeric/growable-array";

/** A shape with the layout that its images were painted for, and the one they are drawn for. */
export interface Repainted {
  readonly shape: PlacedShape;
  readonly from: Layout;
  readonly to: Layout;
}

/** What of an image is drawn from where to where. */
export interface PaintedTriangles {
  /** 12 a triangle, as Redraw takes them, from the corner of the one tile they lie in. */
  readonly triangles: Float64Array;
  /** Whether anything lies elsewhere than before. */
  readonly moved: boolean;
  /** How many tiles they lie in, before and now: one image serves one. */
  readonly tiles: readonly [number, number];
}

/** So far over a tile's border a point may lie, in tiles, and count as in it: as far as files round. */
const OVER = 1e-4;

/**
 * Triangles of the faces of some materials that are mapped in both layouts.
 *
 * @param materials numbers of the materials that lay the image; null for all faces
 */
export function paintedTriangles(
  shapes: readonly Repainted[],
  materials: ReadonlySet<number> | null,
): PaintedTriangles {
  const list = new GrowableArray();
  let moved = false;
  for (const { shape, from, to } of shapes) {
    const { mesh } = shape;
    const [a, b] = [structureOf(mesh, from).cornerWedge, structureOf(mesh, to).cornerWedge];
    const { corners, face } = trianglesOf(mesh);
    for (let t = 0; t < face.length; t++) {
      const f = face[t]!;
      if ((materials && !materials.has(mesh.faceMaterial[f]!)) || !getBit(from.mapped, f) || !getBit(to.mapped, f))
        continue;
      for (const [wedge, { uv }] of [[a, from] as const, [b, to] as const])
        for (let k = 0; k < 3; k++) {
          const w = wedge[corners[3 * t + k]!]!;
          list.add(uv[2 * w]!).add(uv[2 * w + 1]!);
        }
      const at = list.length - 12;
      for (let i = at; i < at + 6; i++) if (list.data[i] !== list.data[i + 6]) moved = true;
    }
  }
  const triangles = list.data.slice(0, list.length);
  return { triangles, moved, tiles: [intoOneTile(triangles, 0), intoOneTile(triangles, 6)] };
}

/** Moves triangles to the tile at the origin. @returns how many tiles they lie in; they are left where these are several */
function intoOneTile(triangles: Float64Array, first: 0 | 6): number {
  const least = [Infinity, Infinity] as [number, number];
  const most = [-Infinity, -Infinity] as [number, number];
  for (let at = first; at < triangles.length; at += 12)
    for (let i = 0; i < 6; i++) {
      least[i % 2] = Math.min(least[i % 2]!, triangles[at + i]!);
      most[i % 2] = Math.max(most[i % 2]!, triangles[at + i]!);
    }
  const tile = least.map((x) => Math.floor(x + OVER));
  const count = most.map((x, d) => Math.max(1, Math.ceil(x - OVER) - tile[d]!));
  const tiles = triangles.length ? count[0]! * count[1]! : 0;
  if (tiles === 1)
    for (let at = first; at < triangles.length; at += 12)
      for (let i = 0; i < 6; i++) triangles[at + i]! -= tile[i % 2]!;
  return tiles;
}

/** Shapes of which both states have a layout of the same mesh. */
export const repainted = (
  shapes: readonly PlacedShape[],
  from: (shape: PlacedShape) => Layout | undefined,
  set: UvSetId,
): Repainted[] =>
  shapes.flatMap((shape) => {
    const [was, to] = [from(shape), shape.layouts.get(set)];
    return was && to ? [{ shape, from: was, to }] : [];
  });
