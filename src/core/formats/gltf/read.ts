import { type Asset, fileKey, type Image, type LaidImage, type Material } from "../../layout/asset";
import { type Layout, layoutFromCorners } from "../../layout/layout";
import { type NewPart, newAsset } from "../../layout/new-asset";
import { UserError } from "../../layout/user-error";
import { NONE, type PolyMesh } from "../../mesh/poly-mesh";
import { pickPoints, weldExact } from "../../mesh/weld-exact";
import { iota } from "../../numeric/iota";
import { materialColor } from "../material-color";
import { baseName, endingOf, type FileIn, idAndUnit, imageType, type ReadOptions, stem } from "../read-options";
import { type GltfDocument, openGltf, uriBytes } from "./document";
import { unpackDraco } from "./draco";
import { meshNodes } from "./nodes";
import { isSurface, Surfaces } from "./surfaces";
import { CHANNEL_SLOTS, slotOf, type TextureSlot } from "./texture-slots";

/**
 * Reads glTF 2.0: text or binary, one file or several, compressed or not. A node with a mesh is a part; nodes that share
 * a mesh are instances. File vertices at exactly the same position are one vertex.
 *
 * @throws UserError with the reason
 */
export async function readGltf(bytes: Uint8Array, options: ReadOptions): Promise<Asset> {
  const doc = await openGltf(bytes, options);
  const surfaces = new Surfaces(doc, await unpackDraco(doc, options.wasm));
  const nodes = meshNodes(doc).filter(({ mesh }) => doc.json.meshes![mesh]!.primitives.some(isSurface));
  if (!nodes.length) throw new UserError(`${options.name} holds no triangles.`);
  const parts: NewPart[] = [];
  const first = new Map<number, NewPart>();
  for (const { mesh, name, path, world, index } of nodes) {
    options.progress?.(parts.length / nodes.length);
    const record = {
      id: `p${parts.length + 1}`,
      name: name || doc.json.meshes![mesh]!.name || `Part ${parts.length + 1}`,
      path,
      transform: world,
      sourceIndex: index,
    };
    const known = first.get(mesh);
    if (known) {
      parts.push({ ...record, same: known.id });
      continue;
    }
    const part: NewPart = { ...record, ...shapeOf(surfaces, mesh) };
    first.set(mesh, part);
    parts.push(part);
  }
  const looks = looksOf(doc, options.beside);
  const format = endingOf(options.name) === "glb" || bytes[0] === 0x67 ? "glb" : "gltf";
  const source = packedSource(doc, bytes, format, options.beside);
  const key = fileKey(source);
  return newAsset(
    {
      ...idAndUnit(options),
      name: stem(options.name),
      materials: looks.materials,
      images: looks.images,
      source: { name: baseName(options.name), format, key },
      files: { ...looks.files, [key]: source },
    },
    parts,
  );
}

/** Coordinate sets that an asset may come with. */
const MOST_SETS = 32;

/** The mesh of all surfaces of a glTF mesh, triangle after triangle, with the layouts of its coordinate sets. */
function shapeOf(surfaces: Surfaces, index: number): { mesh: PolyMesh; layouts: Layout[] } {
  const { doc } = surfaces;
  const primitives = doc.json.meshes![index]!.primitives.filter(isSurface);
  const lists = primitives.map((p) => surfaces.triangles(p));
  const base = new Uint32Array(primitives.length + 1);
  primitives.forEach((p, i) => {
    base[i + 1] = base[i]! + surfaces.vertexCount(p);
  });
  const positions = new Float32Array(3 * base[primitives.length]!);
  primitives.forEach((p, i) => {
    positions.set(surfaces.numbers(p, "POSITION", 3)!, 3 * base[i]!);
  });
  for (let i = 0; i < positions.length; i++)
    if (!Number.isFinite(positions[i])) throw new UserError(`${doc.name} has a vertex without a finite position.`);
  const { of, count } = weldExact(positions);
  const corners = lists.reduce((n, l) => n + l.length, 0);
  const cornerVertex = new Uint32Array(corners);
  const faceMaterial = new Uint32Array(corners / 3).fill(NONE);
  let at = 0;
  lists.forEach((list, i) => {
    const { material } = primitives[i]!;
    if (material !== undefined && material < (doc.json.materials?.length ?? 0))
      faceMaterial.fill(material, at / 3, (at + list.length) / 3);
    for (let k = 0; k < list.length; k++) cornerVertex[at + k] = of[base[i]! + list[k]!]!;
    at += list.length;
  });
  const mesh: PolyMesh = {
    positions: pickPoints(positions, of, count),
    faceStart: iota(corners / 3 + 1, 3),
    cornerVertex,
    faceMaterial,
    faceGroup: new Uint32Array(corners / 3).fill(NONE),
    groups: [],
    origin: {
      vertex: iota(count),
      face: iota(corners / 3),
    },
  };
  const layouts: Layout[] = [];
  for (let n = 0; primitives.some((p) => p.attributes[`TEXCOORD_${n}`] !== undefined); n++) {
    if (n === MOST_SETS) throw new UserError(`${doc.name} has more than ${MOST_SETS} coordinate sets.`);
    const uv = new Float64Array(2 * corners).fill(Number.NaN);
    at = 0;
    lists.forEach((list, i) => {
      const points = surfaces.numbers(primitives[i]!, `TEXCOORD_${n}`, 2);
      if (points)
        for (let k = 0; k < list.length; k++) {
          uv[2 * (at + k)] = points[2 * list[k]!]!;
          // v is flipped here and where it is written, nowhere else.
          uv[2 * (at + k) + 1] = 1 - points[2 * list[k]! + 1]!;
        }
      at += list.length;
    });
    layouts.push(layoutFromCorners(mesh, uv));
  }
  return { mesh, layouts };
}

/** Materials with their base colours and images. */
function looksOf(doc: GltfDocument, beside: readonly FileIn[] | undefined) {
  const images: Image[] = [];
  const files: Record<string, Uint8Array> = {};
  const keys = (doc.json.images ?? []).map((image, i): string | undefined => {
    const bytes = image.bufferView !== undefined ? doc.views[image.bufferView] : uriBytes(image.uri ?? "", beside);
    const named = image.uri && !image.uri.startsWith("data:") ? image.uri : "";
    const type = image.mimeType ?? /^data:([^;,]+)/.exec(image.uri ?? "")?.[1] ?? imageType(named);
    if (!bytes?.length || !type?.startsWith("image/")) return undefined;
    const key = fileKey(bytes);
    if (!files[key]) images.push({ key, name: image.name || baseName(named) || `Image ${i + 1}`, type });
    files[key] = bytes.slice();
    return key;
  });
  const materials = (doc.json.materials ?? []).map((m, i): Material => {
    const look = m.pbrMetallicRoughness;
    const [r = 1, g = 1, b = 1] = look?.baseColorFactor ?? [];
    const plain = r === 1 && g === 1 && b === 1;
    const laid = (slot: TextureSlot): LaidImage[] => {
      const info = slotOf(m, slot);
      const image = info && keys[doc.json.textures?.[info.index]?.source ?? -1];
      return image ? [{ image, set: `s${(info.texCoord ?? 0) + 1}` }] : [];
    };
    const [texture] = laid("color");
    const maps = CHANNEL_SLOTS.flatMap((channel) => laid(channel).map((own) => ({ ...own, channel })));
    return {
      name: m.name || `Material ${i + 1}`,
      color: plain && !texture ? materialColor(i) : [r, g, b],
      ...(texture ? { texture } : {}),
      ...(maps.length ? { maps } : {}),
    };
  });
  return { materials, images, files };
}

/** A glTF in several files is kept as one, with its buffers and images within, so that it can be written back. */
function packedSource(
  doc: GltfDocument,
  bytes: Uint8Array,
  format: string,
  beside: readonly FileIn[] | undefined,
): Uint8Array {
  if (format === "glb") return bytes;
  const outside = [...(doc.json.buffers ?? []), ...(doc.json.images ?? [])].some(
    (x) => x.uri && !x.uri.startsWith("data:"),
  );
  if (!outside) return bytes;
  const inline = <T extends { uri?: string | undefined }>(item: T, type: string): T => {
    const found = item.uri && !item.uri.startsWith("data:") ? uriBytes(item.uri, beside) : undefined;
    return found ? { ...item, uri: `data:${type};base64,${base64(found)}` } : item;
  };
  return new TextEncoder().encode(
    JSON.stringify({
      ...doc.json,
      ...(doc.json.buffers ? { buffers: doc.json.buffers.map((b) => inline(b, "application/octet-stream")) } : {}),
      ...(doc.json.images
        ? { images: doc.json.images.map((i) => inline(i, i.mimeType ?? imageType(i.uri ?? "") ?? "image/png")) }
        : {}),
    }),
  );
}

/** Bytes as base64, a piece at a time: a multiple of three bytes encodes without padding. */
function base64(bytes: Uint8Array): string {
  const pieces: string[] = [];
  const step = 3 * 0x2000;
  for (let i = 0; i < bytes.length; i += step) pieces.push(btoa(String.fromCharCode(...bytes.subarray(i, i + step))));
  return pieces.join("");
}
