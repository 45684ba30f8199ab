import { BufferAttribute, BufferGeometry, DataTexture, NearestFilter, RGBAFormat, UnsignedByteType } from "three";
import {
  type Asset,
  type DrawnPart,
  drawnParts,
  type PartId,
  type ShapeId,
  shapeById,
  type UvSetId,
} from "@/core/layout/asset";
import { getBit } from "@/core/layout/bits";
import { structureOf } from "@/core/layout/layout";
import { tint } from "@/core/layout/tints";
import { NONE, type PolyMesh } from "@/core/mesh/poly-mesh";
import { determinant, worldPositions } from "@/core/mesh/transform";
import { trianglesOf } from "@/core/mesh/triangulate";
import { layoutOf } from "@/core/operations/scope";
import { faceNormals } from "@/core/seams/edge-cost";
import { layerOf } from "./image-layers";

/** One drawn part. */
export interface Drawn {
  readonly part: DrawnPart;
  /** Whether it is the first of its shape: Sheet shows each shape once. */
  readonly first: boolean;
  /** First of its faces among all drawn faces: what picking answers and marks are kept by. */
  readonly firstFace: number;
  readonly firstTriangle: number;
}

/** An asset as the graphics card gets it. The first part of every shape comes first, so that Sheet draws that run only. */
export interface Scene {
  readonly geometry: BufferGeometry;
  /** The same arrays with every shape once, for Sheet. */
  readonly flat: BufferGeometry;
  readonly drawn: readonly Drawn[];
  readonly faces: number;
  readonly centre: readonly [number, number, number];
  readonly radius: number;
  readonly world: ReadonlyMap<PartId, Float64Array>;
}

export const SELECTED = 1;
export const HOVERED = 2;
export const HIDDEN = 4;
export const UNMAPPED = 8;
/** Texels a row of the textures that hold something per face. */
export const ROW = 1024;

/** Builds what does not change while seams and coordinates are edited. */
export function buildScene(asset: Asset): Scene {
  const seen = new Set<ShapeId>();
  const [firsts, others]: [DrawnPart[], DrawnPart[]] = [[], []];
  for (const part of drawnParts(asset)) {
    (seen.has(part.shape) ? others : firsts).push(part);
    seen.add(part.shape);
  }
  const drawn: Drawn[] = [];
  let [faces, triangles, flatTriangles] = [0, 0, 0];
  for (const [k, part] of [...firsts, ...others].entries()) {
    const first = k < firsts.length;
    drawn.push({ part, first, firstFace: faces, firstTriangle: triangles });
    faces += part.mesh.faceStart.length - 1;
    triangles += trianglesOf(part.mesh).face.length;
    if (first) flatTriangles = triangles;
  }
  const position = new Float32Array(9 * triangles);
  const normal = new Float32Array(9 * triangles);
  const ids = new Float32Array(3 * triangles);
  const world = new Map<PartId, Float64Array>();
  for (const d of drawn) {
    world.set(d.part.id, worldPositions(d.part.mesh, d.part.transform).slice());
    fillPart(d, world.get(d.part.id)!, position, normal, ids);
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(position, 3));
  geometry.setAttribute("normal", new BufferAttribute(normal, 3));
  geometry.setAttribute("ids", new BufferAttribute(ids, 1));
  geometry.setAttribute("uv", new BufferAttribute(new Float32Array(6 * triangles), 2));
  geometry.setAttribute("stretch", new BufferAttribute(new Float32Array(3 * triangles).fill(1), 1));
  const flat = new BufferGeometry();
  for (const name of Object.keys(geometry.attributes)) flat.setAttribute(name, geometry.getAttribute(name));
  flat.setDrawRange(0, 3 * flatTriangles);
  return { geometry, flat, drawn, faces, world, ...boundsOf(world) };
}

function fillPart(
  d: Drawn,
  world: Float64Array,
  position: Float32Array,
  normal: Float32Array,
  ids: Float32Array,
): void {
  const { mesh } = d.part;
  const t = trianglesOf(mesh);
  const normals = cornerNormals(mesh, world);
  const flip = determinant(d.part.transform) < 0 ? -1 : 1;
  for (let k = 0; k < 3 * t.face.length; k++) {
    const c = t.corners[k]!;
    const to = 3 * (3 * d.firstTriangle + k);
    for (let i = 0; i < 3; i++) {
      position[to + i] = world[3 * mesh.cornerVertex[c]! + i]!;
      normal[to + i] = flip * normals[3 * c + i]!;
    }
    ids[3 * d.firstTriangle + k] = d.firstFace + t.face[(k / 3) | 0]!;
  }
}

/** Normals to shade with: smooth over gentle edges, sharp where a face leans more than 40 degrees from the mean. */
function cornerNormals(mesh: PolyMesh, world: Float64Array): Float32Array {
  const face = faceNormals(mesh, world);
  const vertex = new Float64Array(mesh.positions.length);
  const out = new Float32Array(3 * mesh.cornerVertex.length);
  // Plain loops: a million faces pass here when an asset is opened.
  for (let f = 0; f + 1 < mesh.faceStart.length; f++)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
      for (let i = 0; i < 3; i++) vertex[3 * mesh.cornerVertex[c]! + i]! += face[3 * f + i]!;
  for (let f = 0; f + 1 < mesh.faceStart.length; f++)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const v = 3 * mesh.cornerVertex[c]!;
      const length = Math.sqrt(vertex[v]! ** 2 + vertex[v + 1]! ** 2 + vertex[v + 2]! ** 2) || 1;
      const cos =
        (vertex[v]! * face[3 * f]! + vertex[v + 1]! * face[3 * f + 1]! + vertex[v + 2]! * face[3 * f + 2]!) / length;
      for (let i = 0; i < 3; i++) out[3 * c + i] = cos > 0.76 ? vertex[v + i]! / length : face[3 * f + i]!;
    }
  return out;
}

function boundsOf(world: ReadonlyMap<PartId, Float64Array>): { centre: [number, number, number]; radius: number } {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (const points of world.values())
    for (let i = 0; i < points.length; i += 3)
      for (let d = 0; d < 3; d++) {
        const x = points[i + d]!;
        if (x < low[d]!) low[d] = x;
        if (x > high[d]!) high[d] = x;
      }
  const centre = low.map((x, i) => (x + high[i]!) / 2) as [number, number, number];
  return { centre, radius: Math.hypot(...low.map((x, i) => high[i]! - x)) / 2 || 1 };
}

/** Writes the coordinates of the drawn triangles of every shape, or of those that follow the pointer. */
export function fillUv(
  scene: Scene,
  asset: Asset,
  set: UvSetId,
  only?: ReadonlySet<ShapeId>,
  live?: ReadonlyMap<ShapeId, Float64Array>,
): void {
  const attribute = scene.geometry.getAttribute("uv") as BufferAttribute;
  const out = attribute.array as Float32Array;
  for (const d of scene.drawn) {
    if (only && !only.has(d.part.shape)) continue;
    const shape = shapeById(asset, d.part.shape);
    const layout = layoutOf(shape, set);
    const s = structureOf(shape.mesh, layout);
    const t = trianglesOf(shape.mesh);
    const uv = live?.get(shape.id) ?? layout.uv;
    for (let k = 0; k < 3 * t.face.length; k++) {
      const w = s.cornerWedge[t.corners[k]!]!;
      out[2 * (3 * d.firstTriangle + k)] = uv[2 * w]!;
      out[2 * (3 * d.firstTriangle + k) + 1] = uv[2 * w + 1]!;
    }
  }
  attribute.needsUpdate = true;
}

export function fillStretch(scene: Scene, stretch: ReadonlyMap<ShapeId, Float32Array>): void {
  const attribute = scene.geometry.getAttribute("stretch") as BufferAttribute;
  const out = attribute.array as Float32Array;
  for (const d of scene.drawn) {
    const values = stretch.get(d.part.shape);
    if (!values) continue;
    for (let t = 0; t < values.length; t++)
      out.fill(Number.isNaN(values[t]!) ? 1 : values[t]!, 3 * (d.firstTriangle + t), 3 * (d.firstTriangle + t) + 3);
  }
  attribute.needsUpdate = true;
}

export function faceTexture(faces: number): DataTexture {
  const rows = Math.max(1, Math.ceil(faces / ROW));
  const texture = new DataTexture(new Uint8Array(4 * ROW * rows), ROW, rows, RGBAFormat, UnsignedByteType);
  texture.minFilter = NearestFilter;
  texture.magFilter = NearestFilter;
  return texture;
}

/** Material colours per face, sRGB, with the layer of the image laid on by the set worked on, counted from 1. */
export function fillColors(texture: DataTexture, scene: Scene, asset: Asset, set: UvSetId): void {
  const data = texture.image.data as Uint8Array;
  const toSrgb = (x: number) => Math.round(255 * (x <= 0.0031308 ? 12.92 * x : 1.055 * x ** (1 / 2.4) - 0.055));
  const dyes = asset.materials.map(({ color, texture: t }) => [
    ...color.map(toSrgb),
    t && t.set === set ? layerOf(asset, t.image) : 0,
  ]);
  const plain = [...[0.5, 0.42, 0.33].map(toSrgb), 0];
  for (const d of scene.drawn)
    d.part.mesh.faceMaterial.forEach((m, f) => {
      data.set(m === NONE ? plain : dyes[m]!, 4 * (d.firstFace + f));
    });
  texture.needsUpdate = true;
}

/** Shell tints and whether a face is mapped; marks for selection come on top with `markFaces`. */
export function fillTints(texture: DataTexture, scene: Scene, asset: Asset, set: UvSetId): void {
  const data = texture.image.data as Uint8Array;
  let shells = 0;
  const first = new Map<ShapeId, number>();
  for (const d of scene.drawn) {
    const shape = shapeById(asset, d.part.shape);
    const layout = layoutOf(shape, set);
    const s = structureOf(shape.mesh, layout);
    if (!first.has(shape.id)) {
      first.set(shape.id, shells);
      shells += s.shellCount;
    }
    const tints = Array.from({ length: s.shellCount }, (_, k) =>
      tint(first.get(shape.id)! + k).map((x) => Math.round(255 * x)),
    );
    for (let f = 0; f < s.faceShell.length; f++) {
      const own = tints[s.faceShell[f]!]!;
      for (let i = 0; i < 3; i++) data[4 * (d.firstFace + f) + i] = own[i]!;
      data[4 * (d.firstFace + f) + 3] = getBit(layout.mapped, f) ? 0 : UNMAPPED;
    }
  }
  texture.needsUpdate = true;
}

/** Sets or clears one mark on every face, then sets it on the given ones. */
export function markFaces(
  texture: DataTexture,
  scene: Scene,
  mark: number,
  faces: ReadonlyMap<ShapeId, Iterable<number>>,
): void {
  const data = texture.image.data as Uint8Array;
  for (let i = 3; i < data.length; i += 4) data[i]! &= ~mark;
  for (const d of scene.drawn) {
    for (const f of faces.get(d.part.shape) ?? []) data[4 * (d.firstFace + f) + 3]! |= mark;
  }
  texture.needsUpdate = true;
}

/** Hides drawn parts, those of one shape each for themselves. */
export function hideParts(texture: DataTexture, scene: Scene, hidden: ReadonlySet<PartId>): void {
  const data = texture.image.data as Uint8Array;
  for (const d of scene.drawn) {
    const gone = hidden.has(d.part.id);
    for (let f = d.firstFace; f < d.firstFace + d.part.mesh.faceStart.length - 1; f++)
      data[4 * f + 3] = gone ? data[4 * f + 3]! | HIDDEN : data[4 * f + 3]! & ~HIDDEN;
  }
  texture.needsUpdate = true;
}

/** Which drawn part a picked face belongs to, by its number among all drawn faces. */
export function drawnFace(scene: Scene, id: number): { drawn: Drawn; face: number } | null {
  if (id < 0 || id >= scene.faces) return null;
  let [low, high] = [0, scene.drawn.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (scene.drawn[middle]!.firstFace <= id) low = middle;
    else high = middle - 1;
  }
  const drawn = scene.drawn[low]!;
  return { drawn, face: id - drawn.firstFace };
}
