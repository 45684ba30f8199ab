import { type Asset, type DrawnPart, drawnParts, type LaidImage, METRES } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { emptyLayout, type Layout, structureOf } from "../../layout/layout";
import { NONE } from "../../mesh/poly-mesh";
import { isIdentity, type Mat4, multiply } from "../../mesh/transform";
import { trianglesOf } from "../../mesh/triangulate";
import { exportedSets } from "../exported-sets";
import type { GlbBuilder } from "./builder";
import type { GltfJson, PrimitiveJson } from "./document";
import { fillSlot, laidInSlots, type TextureSlot } from "./texture-slots";

/** A new document: one node a part, one primitive a material, triangulated as measured. */
export function composeJson(asset: Asset, builder: GlbBuilder): void {
  const { json } = builder;
  const meshes = new Map<string, number>();
  const own = new Map<number, number>();
  json.materials = asset.materials.map((m, i) => {
    own.set(i, i);
    return materialJson(m);
  });
  addImages(asset, builder);
  if (!json.materials.length) delete json.materials;
  json.meshes = [];
  json.nodes = [];
  const toStandard = metresYUp(asset);
  for (const part of drawnParts(asset))
    addNode(asset, { ...part, transform: multiply(toStandard, part.transform) }, builder, meshes, own);
  json.scenes = [{ nodes: json.nodes.map((_, i) => i) }];
  json.scene = 0;
}

/** What brings an asset's space to that of glTF: metres, y up. */
function metresYUp(asset: Asset): Mat4 {
  const s = METRES[asset.unit];
  return asset.up === "y"
    ? [s, 0, 0, 0, 0, s, 0, 0, 0, 0, s, 0, 0, 0, 0, 1]
    : [s, 0, 0, 0, 0, 0, -s, 0, 0, s, 0, 0, 0, 0, 0, 1];
}

type MaterialJson = NonNullable<GltfJson["materials"]>[number];
const materialJson = (m: Asset["materials"][number]): MaterialJson => ({
  name: m.name,
  pbrMetallicRoughness: { baseColorFactor: [...m.color, 1], metallicFactor: 0, roughnessFactor: 0.8 },
});

/** Puts the images that came along into the file, with the coordinate set each is mapped by. */
function addImages(asset: Asset, builder: GlbBuilder): void {
  const { json } = builder;
  const sets = exportedSets(asset);
  const textures = new Map<string, number>();
  const put = (material: number, slot: TextureSlot, laid: LaidImage): void => {
    const image = asset.images.find((x) => x.key === laid.image);
    const bytes = image && asset.files?.[image.key];
    const texCoord = sets.indexOf(laid.set);
    // The standard knows these two types without an extension.
    if (!image || !bytes || texCoord < 0 || !["image/png", "image/jpeg"].includes(image.type)) return;
    let texture = textures.get(image.key);
    if (texture === undefined) {
      json.images ??= [];
      json.textures ??= [];
      const source = json.images.push({ name: image.name, mimeType: image.type, bufferView: builder.view(bytes) }) - 1;
      texture = json.textures.push({ source }) - 1;
      textures.set(image.key, texture);
    }
    fillSlot(json.materials![material]!, slot, { index: texture, ...(texCoord ? { texCoord } : {}) });
  };
  asset.materials.forEach((m, i) => {
    for (const [slot, laid] of laidInSlots(m)) put(i, slot, laid);
  });
}

/** A node for a part, with its mesh unless an instance has added that already. */
export function addNode(
  asset: Asset,
  part: DrawnPart,
  builder: GlbBuilder,
  meshes: Map<string, number>,
  materials: ReadonlyMap<number, number>,
): number {
  const { json } = builder;
  const owner = part.shape;
  json.meshes ??= [];
  json.nodes ??= [];
  let mesh = meshes.get(owner);
  if (mesh === undefined) {
    mesh = json.meshes.push({ name: part.name, primitives: composePrimitives(asset, part, builder, materials) }) - 1;
    meshes.set(owner, mesh);
  }
  const node = { name: part.name, mesh, ...(isIdentity(part.transform) ? {} : { matrix: [...part.transform] }) };
  return json.nodes.push(node) - 1;
}

/** Primitives of a part, one a material, with the numbers the file has for materials. */
export function composePrimitives(
  asset: Asset,
  part: DrawnPart,
  builder: GlbBuilder,
  materials: ReadonlyMap<number, number>,
): PrimitiveJson[] {
  const { face } = trianglesOf(part.mesh);
  const byMaterial = new Map<number, number[]>();
  for (let t = 0; t < face.length; t++) {
    const m = part.mesh.faceMaterial[face[t]!]!;
    const list = byMaterial.get(m);
    if (list) list.push(t);
    else byMaterial.set(m, [t]);
  }
  return [...byMaterial].map(([m, triangles]) => ({
    ...composePrimitive(asset, part, builder, triangles),
    ...(m !== NONE && materials.has(m) ? { material: materials.get(m)! } : {}),
  }));
}

function composePrimitive(
  asset: Asset,
  part: DrawnPart,
  builder: GlbBuilder,
  triangles: readonly number[],
): PrimitiveJson {
  const { mesh } = part;
  const { corners, face } = trianglesOf(mesh);
  const all = exportedSets(asset).map((i): Layout => part.layouts.get(i) ?? emptyLayout(mesh));
  // Sets after the last that these triangles have coordinates in need not be written.
  const used = all.findLastIndex((set) => triangles.some((t) => getBit(set.mapped, face[t]!)));
  const sets = all.slice(0, used + 1);
  const structures = sets.map((set) => structureOf(mesh, set));
  const list = Uint32Array.from(
    { length: 3 * triangles.length },
    (_, i) => corners[3 * triangles[(i / 3) | 0]! + (i % 3)]!,
  );
  const columns: ArrayLike<number>[] = [
    Uint32Array.from(list, (c) => mesh.cornerVertex[c]!),
    ...structures.map((s) => Uint32Array.from(list, (c) => s.cornerWedge[c]!)),
  ];
  if (mesh.cornerNormal)
    columns.push(...[0, 1, 2].map((d) => Float32Array.from(list, (c) => mesh.cornerNormal![3 * c + d]!)));
  const { of, first } = distinctRows(columns, list.length);
  const sample = first.map((i) => list[i]!);
  const vec = (size: number, value: (c: number, d: number) => number) => {
    const out = new Float32Array(size * sample.length);
    sample.forEach((c, i) => {
      for (let d = 0; d < size; d++) out[size * i + d] = value(c, d);
    });
    return out;
  };
  const attributes: Record<string, number> = {
    POSITION: builder.floats(
      vec(3, (c, d) => mesh.positions[3 * mesh.cornerVertex[c]! + d]!),
      "VEC3",
      true,
    ),
  };
  if (mesh.cornerNormal)
    attributes.NORMAL = builder.floats(unitVectors(vec(3, (c, d) => mesh.cornerNormal![3 * c + d]!)), "VEC3");
  sets.forEach((set, n) => {
    const s = structures[n]!;
    attributes[`TEXCOORD_${n}`] = builder.floats(
      vec(2, (c, d) => (d ? 1 - set.uv[2 * s.cornerWedge[c]! + 1]! : set.uv[2 * s.cornerWedge[c]!]!)),
      "VEC2",
    );
  });
  return { attributes, indices: builder.indices(of, sample.length) };
}

/** glTF asks for normals of length one; a normal without a direction points up. */
function unitVectors(v: Float32Array): Float32Array {
  for (let i = 0; i < v.length; i += 3) {
    const l = Math.hypot(v[i]!, v[i + 1]!, v[i + 2]!);
    if (l > 1e-20) for (let d = 0; d < 3; d++) v[i + d]! /= l;
    else v.set([0, 1, 0], i);
  }
  return v;
}

/**
 * Rows that differ in some column, numbered in the order of their appearance, in expected linear time.
 *
 * @param columns numbers of every row
 */
export function distinctRows(
  columns: readonly ArrayLike<number>[],
  rows: number,
): { of: Uint32Array; first: number[] } {
  const of = new Uint32Array(rows);
  const first: number[] = [];
  let size = 16;
  while (size < 2 * rows) size *= 2;
  const table = new Int32Array(size).fill(-1);
  const scratch = new Float32Array(1);
  const bits = new Uint32Array(scratch.buffer);
  for (let i = 0; i < rows; i++) {
    let hash = 0;
    for (const column of columns) {
      scratch[0] = column[i]!;
      hash = Math.imul(hash ^ bits[0]!, 0x9e3779b1);
      hash ^= hash >>> 15;
    }
    let slot = hash & (size - 1);
    for (;;) {
      const known = table[slot]!;
      if (known < 0) {
        table[slot] = first.length;
        of[i] = first.push(i) - 1;
        break;
      }
      const other = first[known]!;
      if (columns.every((column) => column[other] === column[i])) {
        of[i] = known;
        break;
      }
      slot = (slot + 1) & (size - 1);
    }
  }
  return { of, first };
}
