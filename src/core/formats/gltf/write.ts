import { type Asset, type DrawnPart, drawnParts, sourceBytes } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { emptyLayout, type Layout, structureOf } from "../../layout/layout";
import { UserError } from "../../layout/user-error";
import { faceCount } from "../../mesh/poly-mesh";
import { inverse, isIdentity, multiply } from "../../mesh/transform";
import { exportedSets } from "../exported-sets";
import type { ReadOptions } from "../read-options";
import { accessorAt, elementBytes, rawElements } from "./accessors";
import { GlbBuilder } from "./builder";
import { addNode, composeJson, composePrimitives, distinctRows } from "./compose";
import { type GltfDocument, GltfJson, openGltf, type PrimitiveJson, uriBytes } from "./document";
import { DRACO, unpackDraco } from "./draco";
import { type MeshNode, meshNodes } from "./nodes";
import { type NamedImage, nameBeside, namedImages, replacedImages } from "./redrawn-images";
import { isSurface, Surfaces } from "./surfaces";
import { laidInSlots, slotOf } from "./texture-slots";

export interface GlbOut {
  readonly bytes: Uint8Array;
  /** What could not be kept, in sentences. */
  readonly warnings: readonly string[];
}

/**
 * Writes an asset as GLB. An asset that came from glTF is written back into it: its JSON and bytes stay as they are but
 * for the texture coordinates and what they force (split vertices; tangents, which follow from the coordinates, are
 * left for the receiver to derive), and for what was changed on the parts themselves.
 */
export async function writeGlb(asset: Asset, wasm?: ReadOptions["wasm"]): Promise<GlbOut> {
  const { format, name } = asset.source;
  const bytes = sourceBytes(asset);
  if (!bytes || (format !== "glb" && format !== "gltf")) {
    const builder = new GlbBuilder({ asset: { version: "2.0", generator: "Tavlin" } });
    composeJson(asset, builder);
    return { bytes: builder.finish(), warnings: [] };
  }
  const doc = await openGltf(bytes, { name });
  const surfaces = new Surfaces(doc, await unpackDraco(doc, wasm));
  const back = new WriteBack(asset, surfaces);
  back.run();
  return { bytes: back.builder.finish(), warnings: back.warnings };
}

class WriteBack {
  readonly builder: GlbBuilder;
  readonly warnings: string[] = [];
  private readonly doc: GltfDocument;
  private readonly named: readonly NamedImage[];
  /** Images of the file that were drawn anew, by their number. */
  private readonly redrawn: ReadonlyMap<number, Uint8Array>;
  private droppedTangents = 0;

  constructor(
    private readonly asset: Asset,
    private readonly surfaces: Surfaces,
  ) {
    this.doc = surfaces.doc;
    this.builder = new GlbBuilder(GltfJson.parse(structuredClone(this.doc.json)));
    this.named = namedImages(asset, this.doc.json);
    this.redrawn = replacedImages(this.named);
  }

  run(): void {
    this.takeBytes();
    const { json } = this.builder;
    const nodes = meshNodes(this.doc).filter(({ mesh }) => this.doc.json.meshes![mesh]!.primitives.some(isSurface));
    const owners = new Map<number, DrawnPart>();
    const byNode = new Map(drawnParts(this.asset).map((p) => [p.sourceIndex, p]));
    for (const [index, node] of nodes.entries()) {
      const part = byNode.get(index);
      if (!part) this.removeNode(node);
      else {
        this.placeNode(node, part);
        if (!owners.has(node.mesh)) owners.set(node.mesh, part);
      }
    }
    for (const [mesh, part] of owners) this.rewriteMesh(mesh, part);
    this.addForeign(json);
    nameBeside(this.builder, this.named, this.redrawn);
    this.settleTextures();
    if (this.droppedTangents)
      this.warnings.push(
        "Tangents were left out where coordinates changed, as they follow from them; receivers derive them again.",
      );
    this.dropCompression();
  }

  /** All bytes of the file, unpacked and in one buffer. */
  private takeBytes(): void {
    const { json } = this.builder;
    const fresh = new Map([...this.redrawn].map(([i, bytes]) => [json.images![i]!.bufferView, bytes]));
    this.doc.views.forEach((own, i) => {
      const view = json.bufferViews![i]!;
      const bytes = fresh.get(i) ?? own;
      const { extensions, ...rest } = view;
      json.bufferViews![i] = { ...rest, buffer: 0, byteOffset: this.builder.append(bytes), byteLength: bytes.length };
      const others = Object.entries(extensions ?? {}).filter(([name]) => name !== "EXT_meshopt_compression");
      if (others.length) json.bufferViews![i]!.extensions = Object.fromEntries(others);
    });
    for (const [i, image] of (json.images ?? []).entries()) {
      const redrawn = this.redrawn.get(i);
      if (redrawn) image.mimeType = "image/png";
      const type = /^data:([^;,]+);base64,/.exec(image.uri ?? "")?.[1];
      const bytes = type && (redrawn ?? uriBytes(image.uri!, undefined));
      if (!bytes) continue;
      delete image.uri;
      image.mimeType ??= type;
      image.bufferView = this.builder.view(bytes);
    }
  }

  /** A part that was taken out of the asset: its node shows nothing any more. */
  private removeNode(node: MeshNode): void {
    const json = this.builder.json.nodes![node.node]!;
    delete json.mesh;
    delete json.skin;
    this.warnings.push(
      `${node.name || `Node ${node.node + 1}`} is written without its mesh, as its part was taken out.`,
    );
  }

  private placeNode(node: MeshNode, part: DrawnPart): void {
    if (part.transform.every((x, i) => x === node.world[i])) return;
    const json = this.builder.json.nodes![node.node]!;
    const moved = JSON.stringify(this.doc.json.animations ?? []).includes(`"node":${node.node}`);
    if (moved || json.skin !== undefined) {
      this.warnings.push(`${part.name} is animated or skinned; its transform in the file was left as it was.`);
      return;
    }
    delete json.translation;
    delete json.rotation;
    delete json.scale;
    const local = multiply(inverse(node.parent), part.transform);
    if (isIdentity(local)) delete json.matrix;
    else json.matrix = [...local];
  }

  private rewriteMesh(index: number, part: DrawnPart): void {
    const json = this.builder.json.meshes![index]!;
    const originals = this.doc.json.meshes![index]!.primitives;
    const lists = originals.map((p) => (isSurface(p) ? this.surfaces.triangles(p) : null));
    const corners = lists.reduce((n, l) => n + (l?.length ?? 0), 0);
    if (!this.isUnchanged(part, corners, originals)) {
      const materials = new Map((this.doc.json.materials ?? []).map((_, i) => [i, i]));
      const lost = originals.some((p) => p.attributes.JOINTS_0 !== undefined || p.targets?.length);
      json.primitives = [
        ...json.primitives.filter((_, i) => !lists[i]),
        ...composePrimitives(this.asset, part, this.builder, materials),
      ];
      this.warnings.push(
        `${part.name} was changed in its shape and is written from scratch${lost ? ", without its skin weights and morph targets" : ""}.`,
      );
      return;
    }
    let at = 0;
    originals.forEach((p, i) => {
      const list = lists[i];
      if (!list) return;
      json.primitives[i] = this.rewritePrimitive(p, json.primitives[i]!, part, list, at);
      at += list.length;
    });
  }

  /** Whether a part still has the faces, in the order, and the places that the file gives it. */
  private isUnchanged(part: DrawnPart, corners: number, primitives: readonly PrimitiveJson[]): boolean {
    const { mesh } = part;
    if (mesh.cornerVertex.length !== corners || faceCount(mesh) !== corners / 3) return false;
    if (mesh.origin.face.some((f, i) => f !== i)) return false;
    let at = 0;
    for (const p of primitives) {
      if (!isSurface(p)) continue;
      const list = this.surfaces.triangles(p);
      const points = this.surfaces.numbers(p, "POSITION", 3)!;
      for (let k = 0; k < list.length; k++, at++)
        for (let d = 0; d < 3; d++)
          if (Math.fround(mesh.positions[3 * mesh.cornerVertex[at]! + d]!) !== points[3 * list[k]! + d]! + 0)
            return false;
    }
    return true;
  }

  /** Gives a primitive the part's coordinates; file vertices whose corners no longer agree are split. */
  private rewritePrimitive(
    original: PrimitiveJson,
    json: PrimitiveJson,
    part: DrawnPart,
    list: Uint32Array,
    firstCorner: number,
  ): PrimitiveJson {
    const { mesh } = part;
    const count = this.surfaces.vertexCount(original);
    const all = exportedSets(this.asset).map((i) => part.layouts.get(i) ?? emptyLayout(mesh));
    // Sets in which nothing of this primitive lies, and of which the file knows nothing, need not be written.
    const isUsed = (set: Layout, n: number) =>
      original.attributes[`TEXCOORD_${n}`] !== undefined ||
      list.some((_, k) => getBit(set.mapped, Math.floor((firstCorner + k) / 3)));
    const sets = all.slice(0, all.findLastIndex(isUsed) + 1);
    const points = sets.map((set) => {
      const s = structureOf(mesh, set);
      const out = new Float32Array(2 * list.length);
      for (let k = 0; k < list.length; k++) {
        const w = s.cornerWedge[firstCorner + k]!;
        out[2 * k] = set.uv[2 * w]!;
        out[2 * k + 1] = 1 - set.uv[2 * w + 1]!;
      }
      return out;
    });
    // Where the file has just these coordinates already, it stands as it stands.
    const same = points.map((p, n) => this.holdsAlready(original, `TEXCOORD_${n}`, list, p));
    const extra = original.attributes[`TEXCOORD_${sets.length}`] !== undefined;
    if (same.every(Boolean) && !extra && !this.surfaces.unpacked.has(original)) return json;
    const { vertex, sample, from } = splitVertices(list, count, points);
    const attributes: Record<string, number> = {};
    for (const [semantic, index] of Object.entries(original.attributes)) {
      if (semantic.startsWith("TEXCOORD_")) continue;
      if (semantic === "TANGENT" && !same.every(Boolean)) this.droppedTangents++;
      else attributes[semantic] = this.extended(original, semantic, index, from);
    }
    points.forEach((p, n) => {
      const array = new Float32Array(2 * (count + from.length));
      const file = this.surfaces.numbers(original, `TEXCOORD_${n}`, 2);
      // Vertices no triangle uses keep what they had.
      if (file) array.set(file);
      sample.forEach((k, v) => {
        if (k >= 0) array.set(p.subarray(2 * k, 2 * k + 2), 2 * v);
      });
      attributes[`TEXCOORD_${n}`] = this.builder.floats(array, "VEC2");
    });
    const targets = original.targets?.map((target) =>
      Object.fromEntries(
        Object.entries(target)
          .filter(([semantic]) => semantic !== "TANGENT" || attributes.TANGENT !== undefined)
          .map(([semantic, index]) => [semantic, this.extended(null, semantic, index, from)]),
      ),
    );
    const { [DRACO]: _, ...extensions } = json.extensions ?? {};
    const { extensions: _old, indices: _indices, mode: _mode, ...rest } = json;
    const keepsIndices = !from.length && original.indices !== undefined && !this.surfaces.unpacked.has(original);
    return {
      ...rest,
      attributes,
      ...(targets ? { targets } : {}),
      ...(keepsIndices
        ? { indices: original.indices!, ...(original.mode !== undefined ? { mode: original.mode } : {}) }
        : { indices: this.builder.indices(vertex, count + from.length), mode: 4 }),
      ...(Object.keys(extensions).length ? { extensions } : {}),
    };
  }

  private holdsAlready(p: PrimitiveJson, semantic: string, list: Uint32Array, wanted: Float32Array): boolean {
    const file = this.surfaces.numbers(p, semantic, 2);
    if (!file) return false;
    for (let k = 0; k < list.length; k++) {
      if (file[2 * list[k]!] !== wanted[2 * k]) return false;
      // 1 - (1 - v) differs from v in float32 for tiny v: compare after the same round trip.
      if (Math.fround(1 - (1 - file[2 * list[k]! + 1]!)) !== wanted[2 * k + 1]) return false;
    }
    return true;
  }

  /** An attribute with copies of some vertices behind its own; itself where nothing is added. */
  private extended(original: PrimitiveJson | null, semantic: string, index: number, from: readonly number[]): number {
    const packed = original && this.surfaces.unpacked.get(original)?.attributes.get(semantic);
    if (!from.length && !packed) return index;
    const like = accessorAt(this.doc, index);
    const size = elementBytes(like);
    const own = packed || rawElements(this.doc, index);
    const bytes = new Uint8Array(own.length + size * from.length);
    bytes.set(own);
    from.forEach((v, i) => {
      bytes.set(own.subarray(size * v, size * (v + 1)), own.length + size * i);
    });
    return this.builder.attribute(bytes, size, like);
  }

  /** Parts that came from elsewhere are added as nodes of their own. */
  private addForeign(json: GltfJson): void {
    const materials = new Map<number, number>();
    const meshes = new Map<string, number>();
    const known = this.doc.json.materials?.length ?? 0;
    this.asset.materials.forEach((m, i) => {
      materials.set(i, i);
      if (i < known) return;
      json.materials ??= [];
      json.materials.push({
        name: m.name,
        pbrMetallicRoughness: { baseColorFactor: [...m.color, 1], metallicFactor: 0, roughnessFactor: 0.8 },
      });
    });
    const added = drawnParts(this.asset)
      .filter((p) => p.sourceIndex === undefined)
      .map((part) => addNode(this.asset, part, this.builder, meshes, materials));
    if (!added.length) return;
    json.scenes ??= [{ nodes: [] }];
    const scene = json.scenes[json.scene ?? 0];
    if (!scene) throw new UserError(`${this.doc.name} names a scene that is not there.`);
    scene.nodes = [...(scene.nodes ?? []), ...added];
  }

  /** Which coordinate set each base colour image is mapped by, where that was changed. */
  private settleTextures(): void {
    const sets = exportedSets(this.asset);
    this.asset.materials.forEach((m, i) => {
      const json = this.builder.json.materials?.[i];
      for (const [slot, { set }] of laidInSlots(m)) {
        const info = json && slotOf(json, slot);
        if (!info) continue;
        const texCoord = sets.indexOf(set);
        if (texCoord < 0) {
          const words = `${m.name} is mapped by a UV set that is not exported; its coordinate set was left as it was.`;
          if (!this.warnings.includes(words)) this.warnings.push(words);
        } else if (texCoord !== (info.texCoord ?? 0)) info.texCoord = texCoord;
      }
    });
  }

  private dropCompression(): void {
    const { json } = this.builder;
    for (const key of ["extensionsUsed", "extensionsRequired"] as const) {
      const rest = json[key]?.filter((e) => e !== "EXT_meshopt_compression" && e !== DRACO);
      if (rest?.length === json[key]?.length) continue;
      if (rest?.length) json[key] = rest;
      else delete json[key];
    }
    if (this.doc.unpacked.size || this.surfaces.unpacked.size)
      this.warnings.push("The file was compressed and is written unpacked; compress it again where that matters.");
  }
}

/**
 * Splits the vertices of triangles whose corners differ in some coordinates. The first kind of corner at a vertex keeps
 * its number; copies come behind the file's own.
 *
 * @param list vertex of every corner
 * @param points 2 per corner, for every set
 * @returns vertex of every corner; a corner that stands for every vertex (-1 for none); the vertex each copy is of
 */
function splitVertices(list: Uint32Array, count: number, points: readonly Float32Array[]) {
  const columns: ArrayLike<number>[] = [list];
  for (const p of points)
    for (const d of [0, 1]) columns.push(Float32Array.from({ length: list.length }, (_, k) => p[2 * k + d]!));
  const { of, first } = distinctRows(columns, list.length);
  const sample = new Array<number>(count).fill(-1);
  const from: number[] = [];
  const number = first.map((k) => {
    const v = list[k]!;
    if (sample[v]! < 0) {
      sample[v] = k;
      return v;
    }
    sample.push(k);
    return count + from.push(v) - 1;
  });
  return { vertex: of.map((row) => number[row]!), sample, from };
}
