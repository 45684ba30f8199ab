import { BufferAttribute, BufferGeometry } from "three";
import {
  type Asset,
  type PartId,
  placedShape,
  type ShapeId,
  shapeById,
  shapesOf,
  type UvSetId,
} from "@/core/layout/asset";
import { getBit } from "@/core/layout/bits";
import { isBarrier, type Layout, structureOf } from "@/core/layout/layout";
import type { Edge } from "@/core/mesh/indices";
import { edgeFaceCount, type Topology, topologyOf } from "@/core/mesh/topology";
import { layoutOf } from "@/core/operations/scope";
import type { Picked } from "../session/store";
import type { Scene } from "./scene";

/** Points of line segments, 6 numbers each. */
export type Segments = number[];

export interface LineSets {
  /** Seams, firm. */
  readonly seams: Segments;
  /** Cross-ticks along the seams, like basting thread. */
  readonly ticks: Segments;
  /** Open borders of the mesh. */
  readonly borders: Segments;
}

/** Seams and borders on the form, on every drawn part. */
export function formLines(scene: Scene, asset: Asset, set: UvSetId, hidden: ReadonlySet<PartId>): LineSets {
  const out: LineSets = { seams: [], ticks: [], borders: [] };
  const step = scene.radius * 0.028;
  for (const { part } of scene.drawn) {
    if (hidden.has(part.id)) continue;
    const shape = shapeById(asset, part.shape);
    const { mesh } = shape;
    const layout = layoutOf(shape, set);
    const t = topologyOf(mesh);
    const p = scene.world.get(part.id)!;
    for (let e = 0 as Edge; e < t.edgeCount; e++) {
      const count = edgeFaceCount(t, e);
      const isSeam = count === 2 && getBit(layout.cut, e);
      if (!isSeam && count === 2) continue;
      const [a, b] = [3 * t.edgeVertices[2 * e]!, 3 * t.edgeVertices[2 * e + 1]!];
      (isSeam ? out.seams : out.borders).push(p[a]!, p[a + 1]!, p[a + 2]!, p[b]!, p[b + 1]!, p[b + 2]!);
      if (isSeam) tickAcross(out.ticks, mesh.cornerVertex, t, p, e, step);
    }
  }
  return out;
}

/** One tick across the middle of an edge, lying in its first face's plane; longer edges get more. */
function tickAcross(
  ticks: Segments,
  cornerVertex: Uint32Array,
  t: Topology,
  p: Float64Array,
  e: number,
  step: number,
): void {
  const c = t.edgeCorners[t.edgeCornerStart[e]!]!;
  const [a, b, o] = [c, t.cornerNext[c]!, t.cornerNext[t.cornerNext[c]!]!].map((k) => 3 * cornerVertex[k]!) as [
    number,
    number,
    number,
  ];
  const d = [0, 1, 2].map((i) => p[b + i]! - p[a + i]!);
  const w = [0, 1, 2].map((i) => p[o + i]! - p[a + i]!);
  const length = Math.hypot(...d);
  if (!length) return;
  const along = (d[0]! * w[0]! + d[1]! * w[1]! + d[2]! * w[2]!) / (length * length);
  const side = w.map((x, i) => x - along * d[i]!);
  const wide = Math.hypot(...side);
  if (!wide) return;
  const half = step * 0.2;
  const n = Math.min(60, Math.floor(length / step + 0.5));
  for (let k = 0; k < n; k++) {
    const f = (k + 0.5) / n;
    const at = [0, 1, 2].map((i) => p[a + i]! + f * d[i]!);
    ticks.push(...at.map((x, i) => x + (half * side[i]!) / wide), ...at.map((x, i) => x - (half * side[i]!) / wide));
  }
}

/** Calls `act` with the two UV ends of every border side of a layout's shells. */
function eachSide(
  layout: Layout,
  mesh: Parameters<typeof topologyOf>[0],
  act: (e: Edge, a: number, b: number) => void,
): void {
  const t = topologyOf(mesh);
  const s = structureOf(mesh, layout);
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (!isBarrier(t, layout, e)) continue;
    for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++) {
      const c = t.edgeCorners[k]!;
      if (getBit(layout.mapped, t.cornerFace[c]!)) act(e, 2 * s.cornerWedge[c]!, 2 * s.cornerWedge[t.cornerNext[c]!]!);
    }
  }
}

/** Shapes of which lines are asked for: those that follow the pointer change with it, the others stay. */
export interface LinesOf {
  wants(shape: ShapeId): boolean;
  /** Points that shapes have while they follow the pointer. */
  readonly live: ReadonlyMap<ShapeId, Float64Array>;
}

/** Seams and borders in Sheet, every shape once. */
export function sheetLines(
  asset: Asset,
  set: UvSetId,
  hidden: ReadonlySet<PartId>,
  { wants, live }: LinesOf,
): LineSets {
  const out: LineSets = { seams: [], ticks: [], borders: [] };
  const step = 0.022;
  for (const shape of shapesOf(asset)) {
    if (!wants(shape.id) || shape.parts.every((p) => hidden.has(p.id))) continue;
    const layout = layoutOf(shape, set);
    const uv = live.get(shape.id) ?? layout.uv;
    const t = topologyOf(shape.mesh);
    let walked = 0;
    eachSide(layout, shape.mesh, (e, a, b) => {
      const [ax, ay, bx, by] = [uv[a]!, uv[a + 1]!, uv[b]!, uv[b + 1]!];
      const seam = edgeFaceCount(t, e) === 2;
      (seam ? out.seams : out.borders).push(ax, ay, 0, bx, by, 0);
      if (!seam) return;
      const length = Math.hypot(bx - ax, by - ay);
      walked += length;
      if (walked < step || !length) return;
      walked = 0;
      const [mx, my, nx, ny] = [
        (ax + bx) / 2,
        (ay + by) / 2,
        (-(by - ay) / length) * 0.004,
        ((bx - ax) / length) * 0.004,
      ];
      out.ticks.push(mx + nx, my + ny, 0, mx - nx, my - ny, 0);
    });
  }
  return out;
}

/** Picked or previewed edges, in one pane. In Sheet an edge shows on both of its sides: its mates light up with it. */
export function edgeSegments(
  scene: Scene,
  asset: Asset,
  set: UvSetId,
  edges: Picked,
  pane: "form" | "sheet",
): Segments {
  const out: Segments = [];
  for (const { part, first } of scene.drawn) {
    const items = edges.get(part.shape);
    if (!items?.size) continue;
    const t = topologyOf(part.mesh);
    if (pane === "form") {
      const p = scene.world.get(part.id)!;
      for (const e of items) {
        const [a, b] = [3 * t.edgeVertices[2 * e]!, 3 * t.edgeVertices[2 * e + 1]!];
        out.push(p[a]!, p[a + 1]!, p[a + 2]!, p[b]!, p[b + 1]!, p[b + 2]!);
      }
    } else if (first) {
      const own = shapeById(asset, part.shape);
      const layout = layoutOf(own, set);
      const s = structureOf(own.mesh, layout);
      for (const e of items)
        for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++) {
          const c = t.edgeCorners[k]!;
          if (!getBit(layout.mapped, t.cornerFace[c]!)) continue;
          const [a, b] = [2 * s.cornerWedge[c]!, 2 * s.cornerWedge[t.cornerNext[c]!]!];
          out.push(layout.uv[a]!, layout.uv[a + 1]!, 0, layout.uv[b]!, layout.uv[b + 1]!, 0);
        }
    }
  }
  return out;
}

/** Points of picked vertices, 3 numbers each. */
export function vertexPoints(
  scene: Scene,
  asset: Asset,
  set: UvSetId,
  vertices: Picked,
  pane: "form" | "sheet",
): number[] {
  const out: number[] = [];
  for (const { part, first } of scene.drawn) {
    const items = vertices.get(part.shape);
    if (!items?.size) continue;
    if (pane === "form") {
      const p = scene.world.get(part.id)!;
      for (const v of items) out.push(p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!);
    } else if (first) {
      const own = shapeById(asset, part.shape);
      const layout = layoutOf(own, set);
      const s = structureOf(own.mesh, layout);
      const { cornerFace } = topologyOf(own.mesh);
      const shown = new Set<number>();
      // Corners without coordinates are nowhere in Sheet.
      s.cornerWedge.forEach((w, c) => {
        if (items.has(s.wedgeVertex[w]!) && getBit(layout.mapped, cornerFace[c]!)) shown.add(w);
      });
      for (const w of shown) out.push(layout.uv[2 * w]!, layout.uv[2 * w + 1]!, 0);
    }
  }
  return out;
}

/** All edges of the polygons as thin lines. */
export function wireGeometry(
  scene: Scene,
  asset: Asset,
  set: UvSetId,
  hidden: ReadonlySet<PartId>,
  pane: "form" | "sheet",
  { wants, live }: LinesOf,
): BufferGeometry {
  const out: number[] = [];
  for (const { part, first } of scene.drawn) {
    const own = shapeById(asset, part.shape);
    const gone =
      pane === "form" ? hidden.has(part.id) : placedShape(asset, own.id).parts.every((p) => hidden.has(p.id));
    if (gone || (pane === "sheet" && (!first || !wants(own.id)))) continue;
    const t = topologyOf(own.mesh);
    const layout = layoutOf(own, set);
    const s = pane === "sheet" ? structureOf(own.mesh, layout) : null;
    const uv = live.get(own.id) ?? layout.uv;
    const p = scene.world.get(part.id)!;
    for (let e = 0 as Edge; e < t.edgeCount; e++) {
      const c = t.edgeCorners[t.edgeCornerStart[e]!]!;
      if (s) {
        if (isBarrier(t, layout, e) || !getBit(layout.mapped, t.cornerFace[c]!)) continue;
        const [a, b] = [2 * s.cornerWedge[c]!, 2 * s.cornerWedge[t.cornerNext[c]!]!];
        out.push(uv[a]!, uv[a + 1]!, 0, uv[b]!, uv[b + 1]!, 0);
      } else {
        const [a, b] = [3 * t.edgeVertices[2 * e]!, 3 * t.edgeVertices[2 * e + 1]!];
        out.push(p[a]!, p[a + 1]!, p[a + 2]!, p[b]!, p[b + 1]!, p[b + 2]!);
      }
    }
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(Float32Array.from(out), 3));
  return geometry;
}
