import { type Asset, type ShapeId, shapeById, type UvSetId } from "@/core/layout/asset";
import { structureOf } from "@/core/layout/layout";
import { topologyOf } from "@/core/mesh/topology";
import { pointToSegment } from "@/core/numeric/segments";
import type { SelectionKind } from "@/core/operations/operation";
import { layoutOf } from "@/core/operations/scope";
import { itemsOfFaces } from "../session/selection";
import type { Hover } from "../session/store";
import { type Drawn, drawnFace, type Scene } from "./scene";

/** Where a corner of a drawn part appears in a pane, pixels from the top left. */
export type Project = (drawn: Drawn, corner: number) => [number, number];

/** Projector of a pane's corners, from the function that takes a point of space to pixels. */
export function projector(
  scene: Scene,
  asset: Asset,
  set: UvSetId,
  pane: "form" | "sheet",
  toPixels: (x: number, y: number, z: number) => [number, number],
): Project {
  return (drawn, corner) => {
    if (pane === "form") {
      const p = scene.world.get(drawn.part.id)!;
      const v = 3 * drawn.part.mesh.cornerVertex[corner]!;
      return toPixels(p[v]!, p[v + 1]!, p[v + 2]!);
    }
    const shape = shapeById(asset, drawn.part.shape);
    const layout = layoutOf(shape, set);
    const w = 2 * structureOf(shape.mesh, layout).cornerWedge[corner]!;
    return toPixels(layout.uv[w]!, layout.uv[w + 1]!, 0);
  };
}

/** The item of the kind being picked that is nearest to a point on the face found there. */
export function itemAt(
  scene: Scene,
  asset: Asset,
  set: UvSetId,
  kind: SelectionKind,
  id: number,
  project: Project,
  x: number,
  y: number,
): Hover | null {
  const hit = drawnFace(scene, id);
  if (!hit) return null;
  const { drawn, face } = hit;
  const { mesh } = drawn.part;
  const found = { shape: drawn.part.shape, face };
  if (kind === "faces") return { ...found, item: face };
  if (kind === "shells")
    return { ...found, item: [...itemsOfFaces(asset, set, drawn.part.shape, [face], "shells")][0]! };
  const t = topologyOf(mesh);
  let best = -1;
  let least = Infinity;
  for (let c = mesh.faceStart[face]!; c < mesh.faceStart[face + 1]!; c++) {
    const [ax, ay] = project(drawn, c);
    const [bx, by] = project(drawn, t.cornerNext[c]!);
    const d = kind === "edges" ? pointToSegment(x, y, ax, ay, bx, by) : Math.hypot(ax - x, ay - y);
    if (d >= least) continue;
    least = d;
    best = kind === "edges" ? t.cornerEdge[c]! : mesh.cornerVertex[c]!;
  }
  return { ...found, item: best };
}

/** Items within a box: of the faces seen there, edges and vertices only if they lie in it whole. */
export function itemsIn(
  scene: Scene,
  asset: Asset,
  set: UvSetId,
  kind: SelectionKind,
  ids: ReadonlySet<number>,
  project: Project,
  box: { x0: number; y0: number; x1: number; y1: number },
): Map<ShapeId, Set<number>> {
  const out = new Map<ShapeId, Set<number>>();
  const inside = ([x, y]: [number, number]) => x >= box.x0 && x <= box.x1 && y >= box.y0 && y <= box.y1;
  for (const id of ids) {
    const hit = drawnFace(scene, id);
    if (!hit) continue;
    const { drawn, face } = hit;
    const own = out.get(drawn.part.shape) ?? new Set<number>();
    out.set(drawn.part.shape, own);
    if (kind === "faces" || kind === "shells") {
      for (const item of itemsOfFaces(asset, set, drawn.part.shape, [face], kind)) own.add(item);
      continue;
    }
    const { mesh } = drawn.part;
    const t = topologyOf(mesh);
    for (let c = mesh.faceStart[face]!; c < mesh.faceStart[face + 1]!; c++) {
      if (!inside(project(drawn, c))) continue;
      if (kind === "vertices") own.add(mesh.cornerVertex[c]!);
      else if (inside(project(drawn, t.cornerNext[c]!))) own.add(t.cornerEdge[c]!);
    }
  }
  return out;
}
