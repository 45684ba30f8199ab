import { type Asset, type PlacedShape, placedShape, type UvSetId } from "../layout/asset";
import { getBit } from "../layout/bits";
import { type Layout, structureOf } from "../layout/layout";
import { pointNames } from "../layout/point-names";
import type { SelectionKind } from "../layout/selection-kind";
import { resolutionAt } from "../layout/tiles";
import { topologyOf } from "../mesh/topology";
import { worldPositions } from "../mesh/transform";
import { triangleArea, trianglesOf } from "../mesh/triangulate";
import { length3 } from "../numeric/length";
import { converted } from "../select/convert";
import { groupsOf } from "../select/groups";
import { elementCount, flagsAt } from "../select/grow";
import { layoutIn } from "./figures";

/**
 * Sizes of some elements together, in the asset's unit. Lengths and areas are those of a shape's largest instance, as they
 * are wherever something is measured; the extent is taken where its first part stands.
 */
export interface Sizes {
  readonly count: number;
  /** Of edges and faces: how many groups of connected ones they make; a stray is a group of its own. */
  readonly groups?: number;
  /** Along x, y and z in space. */
  readonly extent: readonly [number, number, number];
  /** Of edges: their lengths together, the shortest and the longest. */
  readonly edges?: { readonly total: number; readonly shortest: number; readonly longest: number };
  /** Of faces and shells: area in space. */
  readonly area?: number;
  /** The box in UV: its size along u and v, in tiles and in texels of the tile of its middle; missing without coordinates. */
  readonly uv?: { readonly tiles: readonly [number, number]; readonly texels: readonly [number, number] };
}

/** Picked elements by shape; shells by their names. */
export interface Elements {
  readonly kind: SelectionKind;
  readonly items: ReadonlyMap<string, Uint32Array>;
}

interface Box {
  readonly low: number[];
  readonly high: number[];
}
const emptyBox = (dimensions: number): Box => ({
  low: new Array(dimensions).fill(Number.POSITIVE_INFINITY),
  high: new Array(dimensions).fill(Number.NEGATIVE_INFINITY),
});
function include(box: Box, points: Float64Array, at: number): void {
  for (let d = 0; d < box.low.length; d++) {
    const x = points[at + d]!;
    if (x < box.low[d]!) box.low[d] = x;
    if (x > box.high[d]!) box.high[d] = x;
  }
}
const sizesOfBox = (box: Box): number[] => box.low.map((low, d) => Math.max(0, box.high[d]! - low));

/** Sizes of what is picked, in time linear in the meshes it is picked of. */
export function sizesOf(asset: Asset, set: UvSetId, { kind, items }: Elements): Sizes {
  const [space, sheet] = [emptyBox(3), emptyBox(2)];
  let [count, area, total, groups] = [0, 0, 0, 0];
  let [shortest, longest] = [Number.POSITIVE_INFINITY, 0];
  for (const [id, picked] of items) {
    const shape = placedShape(asset, id);
    const { mesh } = shape;
    const layout = layoutIn(shape, set);
    const world = worldPositions(mesh, shape.metric);
    const placed = worldPositions(mesh, shape.parts[0]!.transform);
    const flags = flagsAt(picked, elementCount(mesh, kind));
    count += picked.length;
    if (kind === "edges" || kind === "faces") groups += groupsOf(mesh, kind, flags).length;
    const vertices = converted(mesh, layout, kind, flags, "vertices", "touching");
    for (let v = 0; v < vertices.length; v++) if (vertices[v]) include(space, placed, 3 * v);
    if (kind === "edges") {
      const { edgeVertices } = topologyOf(mesh);
      for (const e of picked) {
        const [a, b] = [3 * edgeVertices[2 * e]!, 3 * edgeVertices[2 * e + 1]!];
        const length = length3(world[a]! - world[b]!, world[a + 1]! - world[b + 1]!, world[a + 2]! - world[b + 2]!);
        total += length;
        shortest = Math.min(shortest, length);
        longest = Math.max(longest, length);
      }
    }
    if (kind === "faces" || kind === "shells")
      area += areaOf(shape, world, converted(mesh, layout, kind, flags, "faces", "touching"));
    includeUv(sheet, shape, layout, kind, flags);
  }
  return {
    count,
    ...(kind === "edges" || kind === "faces" ? { groups } : {}),
    extent: sizesOfBox(space) as [number, number, number],
    ...(kind === "edges" && count ? { edges: { total, shortest, longest } } : {}),
    ...(kind === "faces" || kind === "shells" ? { area } : {}),
    ...(Number.isFinite(sheet.low[0]) ? { uv: uvSizes(asset, sheet) } : {}),
  };
}

function uvSizes({ tiles }: Asset, box: Box): Sizes["uv"] & {} {
  const [u, v] = sizesOfBox(box) as [number, number];
  const texels = resolutionAt(tiles, box.low[0]! + u / 2, box.low[1]! + v / 2);
  return { tiles: [u, v], texels: [texels * u, texels * v] };
}

function areaOf({ mesh }: PlacedShape, world: Float64Array, faces: Uint8Array): number {
  const t = trianglesOf(mesh);
  let sum = 0;
  for (let k = 0; k < t.face.length; k++) if (faces[t.face[k]!]) sum += triangleArea(mesh, world, t.corners, 3 * k);
  return sum;
}

/** Corners of mapped faces at what is picked: those of picked faces and shells, the ends of picked edges, picked vertices and UV points. */
function includeUv(box: Box, { mesh }: PlacedShape, layout: Layout, kind: SelectionKind, flags: Uint8Array): void {
  const t = topologyOf(mesh);
  const s = structureOf(mesh, layout);
  const { cornerWedge } = s;
  const names = pointNames(s);
  const faces = kind === "shells" ? converted(mesh, layout, kind, flags, "faces", "touching") : flags;
  const taken = (c: number): boolean => {
    if (kind === "vertices") return flags[mesh.cornerVertex[c]!] === 1;
    if (kind === "points") return flags[names[cornerWedge[c]!]!] === 1;
    if (kind !== "edges") return faces[t.cornerFace[c]!] === 1;
    return flags[t.cornerEdge[c]!] === 1;
  };
  for (let c = 0; c < cornerWedge.length; c++) {
    if (!getBit(layout.mapped, t.cornerFace[c]!) || !taken(c)) continue;
    include(box, layout.uv, 2 * cornerWedge[c]!);
    if (kind === "edges") include(box, layout.uv, 2 * cornerWedge[t.cornerNext[c]!]!);
  }
}
