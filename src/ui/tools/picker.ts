import {
  type Asset,
  type Part,
  type PartId,
  partById,
  type ShapeId,
  shapeById,
  type UvSetId,
} from "@/core/layout/asset";
import { getBit } from "@/core/layout/bits";
import { type Layout, structureOf } from "@/core/layout/layout";
import { pointNames } from "@/core/layout/point-names";
import type { PolyMesh } from "@/core/mesh/poly-mesh";
import { topologyOf } from "@/core/mesh/topology";
import { multiply } from "@/core/mesh/transform";
import { pointToSegment } from "@/core/numeric/segments";
import type { SelectionKind } from "@/core/operations/operation";
import { layoutOf } from "@/core/operations/scope";
import { ElementSet } from "@/core/select/element-set";
import { elementCount } from "@/core/select/grow";
import { elementsOfFace } from "@/core/select/stand-for";
import { elementsWithin, isMostlyWithin, pointsWithin } from "@/core/select/within";
import type { Hover, Pane, Stop } from "../session/store";
import type { Region } from "./region";

/** What a pane can tell of what it shows. */
export interface Surface {
  /** The face seen at a point. */
  faceAt(x: number, y: number): { readonly part: PartId; readonly face: number } | null;
  /** Faces seen within a region. */
  facesIn(region: Region): ReadonlyArray<{ readonly part: PartId; readonly face: number }>;
  /** 16 numbers, column-major: world space (u, v and 0 in Sheet) to pixels, each times w. */
  pixelMatrix(): readonly number[];
}

export interface Pointed {
  readonly asset: Asset;
  readonly set: UvSetId;
  readonly kind: SelectionKind;
  readonly hidden: ReadonlySet<PartId>;
}

/** Kinds of elements that are found at the corners of faces. */
type Cornered = "vertices" | "points" | "edges";

/** Where a corner of a part appears in the pane. */
function cornerPlace(pane: Pane, { asset, set }: Pointed, part: Part, matrix: readonly number[]) {
  const shape = shapeById(asset, part.shape);
  const layout = layoutOf(shape, set);
  const { cornerWedge } = structureOf(shape.mesh, layout);
  const m = pane === "form" ? multiply(matrix, part.transform) : matrix;
  return (corner: number): [number, number] => {
    const flat = pane === "sheet";
    const points = flat ? layout.uv : shape.mesh.positions;
    const i = flat ? 2 * cornerWedge[corner]! : 3 * shape.mesh.cornerVertex[corner]!;
    const [x, y, z] = [points[i]!, points[i + 1]!, flat ? 0 : points[i + 2]!];
    const w = m[3]! * x + m[7]! * y + m[11]! * z + m[15]!;
    return [(m[0]! * x + m[4]! * y + m[8]! * z + m[12]!) / w, (m[1]! * x + m[5]! * y + m[9]! * z + m[13]!) / w];
  };
}

/** The vertex nearest to a point, on the face seen there. */
export function vertexAt(pane: Pane, surface: Surface, now: Pointed, x: number, y: number): Stop | null {
  const hit = itemAt(pane, surface, { ...now, kind: "vertices" }, x, y);
  return hit && { shape: hit.shape, vertex: hit.item };
}

/** The item of the kind being picked that is nearest to a point, on the face seen there. */
export function itemAt(pane: Pane, surface: Surface, now: Pointed, x: number, y: number): Hover | null {
  const seen = surface.faceAt(x, y);
  if (!seen) return null;
  const { asset, set, kind } = now;
  const { face } = seen;
  const part = partById(asset, seen.part);
  const shape = shapeById(asset, part.shape);
  const found = { shape: part.shape, face, part: part.id };
  if (kind === "faces" || kind === "shells")
    return { ...found, item: elementsOfFace(shape.mesh, layoutOf(shape, set), face, kind)[0]! };
  const { mesh } = shape;
  const layout = layoutOf(shape, set);
  const t = topologyOf(mesh);
  const place = cornerPlace(pane, now, part, surface.pixelMatrix());
  let [best, least] = [-1, Infinity];
  for (let c = mesh.faceStart[face]!; c < mesh.faceStart[face + 1]!; c++) {
    const [ax, ay] = place(c);
    const [bx, by] = kind === "edges" ? place(t.cornerNext[c]!) : [ax, ay];
    const d = kind === "edges" ? pointToSegment(x, y, ax, ay, bx, by) : Math.hypot(ax - x, ay - y);
    if (d >= least) continue;
    least = d;
    best = c;
  }
  const item = itemAtCorner(mesh, layout, kind, best);
  return item === null ? null : { ...found, item };
}

/** The edge, vertex or UV point at a corner; null for a point that has no coordinates. */
function itemAtCorner(mesh: PolyMesh, layout: Layout, kind: Cornered, corner: number): number | null {
  if (kind === "vertices") return mesh.cornerVertex[corner]!;
  const t = topologyOf(mesh);
  if (kind === "edges") return t.cornerEdge[corner]!;
  if (!getBit(layout.mapped, t.cornerFace[corner]!)) return null;
  const s = structureOf(mesh, layout);
  return pointNames(s)[s.cornerWedge[corner]!]!;
}

/**
 * Items within a region that can be seen: faces of which any pixel is and more than half lies in it, shells of which any
 * pixel is, edges and points that are part of such a face and lie in the region whole.
 */
export function itemsSeen(pane: Pane, surface: Surface, now: Pointed, region: Region): Map<ShapeId, ElementSet> {
  const { asset, set, kind } = now;
  const lists = new Map<PartId, number[]>();
  for (const { part, face } of surface.facesIn(region)) {
    const list = lists.get(part);
    if (list) list.push(face);
    else lists.set(part, [face]);
  }
  const out = new Map<ShapeId, ElementSet>();
  const matrix = surface.pixelMatrix();
  for (const [id, faces] of lists) {
    const part = partById(asset, id);
    const { mesh, layouts } = shapeById(asset, part.shape);
    const layout = layoutOf({ mesh, layouts }, set);
    const items: number[] = [];
    const place = cornerPlace(pane, now, part, matrix);
    if (kind === "shells") for (const f of faces) items.push(...elementsOfFace(mesh, layout, f, kind));
    else if (kind === "faces")
      items.push(...faces.filter((f) => region.touching || isMostlyWithin(mesh, f, place, region.has)));
    else wholeOf({ mesh, layout, kind }, faces, place, region, items);
    const own = (out.get(part.shape) ?? ElementSet.none(elementCount(mesh, kind))).with(items);
    if (own.size) out.set(part.shape, own);
  }
  return out;
}

function wholeOf(
  { mesh, layout, kind }: { readonly mesh: PolyMesh; readonly layout: Layout; readonly kind: Cornered },
  faces: readonly number[],
  place: (corner: number) => [number, number],
  region: Region,
  out: number[],
): void {
  const t = topologyOf(mesh);
  const inside = (c: number) => region.has(...place(c));
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      if (!inside(c)) continue;
      if (kind === "edges" && !inside(t.cornerNext[c]!)) continue;
      const item = itemAtCorner(mesh, layout, kind, c);
      if (item !== null) out.push(item);
    }
}

/** Items within a region whether they can be seen or not, of all parts that are shown. */
export function itemsThrough(pane: Pane, surface: Surface, now: Pointed, region: Region): Map<ShapeId, ElementSet> {
  const { asset, set, kind, hidden } = now;
  const out = new Map<ShapeId, ElementSet>();
  const done = new Set<ShapeId>();
  const matrix = surface.pixelMatrix();
  const [left, top, right, bottom] = region.box;
  // The box is asked first: most points are not even near.
  const inside = (x: number, y: number) => x >= left && x <= right && y >= top && y <= bottom && region.has(x, y);
  for (const part of asset.parts) {
    if (hidden.has(part.id) || (pane === "sheet" && done.has(part.shape))) continue;
    done.add(part.shape);
    const shape = shapeById(asset, part.shape);
    const layout = layoutOf(shape, set);
    const flat = pane === "sheet";
    const points = flat ? layout.uv : shape.mesh.positions;
    const flags = pointsWithin(points, flat, flat ? matrix : multiply(matrix, part.transform), inside);
    const place = cornerPlace(pane, now, part, matrix);
    const isMostly = (face: number) => region.touching || isMostlyWithin(shape.mesh, face, place, inside);
    const own = elementsWithin(shape.mesh, layout, kind, flags, flat ? "wedge" : "vertex", isMostly);
    const before = out.get(part.shape);
    if (own.size) out.set(part.shape, before ? before.union(own) : own);
  }
  return out;
}
