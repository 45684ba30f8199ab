import {
  type Accessor,
  type Document,
  Document as GltfDocument,
  type Mesh,
  type Node,
  type Primitive,
  type Scene,
  WebIO,
} from "@gltf-transform/core";
import { type Asset, layoutParts, type Material, type Part } from "../layout/asset";
import { getBit } from "../layout/bits";
import { UserError } from "../layout/user-error";
import { emptyLayout, layoutFromCorners, structureOf, type UvSet } from "../layout/uv-set";
import { NONE, type PolyMesh } from "../mesh/poly-mesh";
import { trianglesOf } from "../mesh/triangulate";
import { materialColor } from "./material-color";
import type { ReadOptions } from "./obj-read";

/** Corners of a glTF mesh: primitive and vertex each, triangle by triangle, in the order Tavlin numbers them. */
interface Corners {
  readonly primitive: Uint32Array;
  readonly vertex: Uint32Array;
}

const TRIANGLES = 4;
const STRIP = 5;
const FAN = 6;

async function open(bytes: Uint8Array, name: string): Promise<Document> {
  if (!bytes.length) throw new UserError(`${name} is empty.`);
  try {
    const isBinary = bytes[0] === 0x67 && bytes[1] === 0x6c && bytes[2] === 0x54 && bytes[3] === 0x46;
    const io = new WebIO();
    if (isBinary) return await io.readBinary(bytes);
    const json = JSON.parse(new TextDecoder().decode(bytes));
    const outside = [...(json.buffers ?? []), ...(json.images ?? [])].find(
      (x: { uri?: string }) => x.uri && !x.uri.startsWith("data:"),
    );
    if (outside)
      throw new UserError(`${name} refers to ${outside.uri}, which did not come along; export it as one GLB file.`);
    return await io.readJSON({ json, resources: {} });
  } catch (error) {
    if (error instanceof UserError) throw error;
    throw new UserError(`${name} is not a glTF file that can be read: ${(error as Error).message.split("\n")[0]}`);
  }
}

/**
 * Reads glTF 2.0, binary or with everything embedded. A node with a mesh is a part; nodes that share a mesh are
 * instances. File vertices at exactly the same position are one vertex.
 *
 * @throws UserError with the reason
 */
export async function readGltf(bytes: Uint8Array, options: ReadOptions): Promise<Asset> {
  const document = await open(bytes, options.name);
  const root = document.getRoot();
  const materials: Material[] = root.listMaterials().map((m, i) => {
    const [r, g, b] = m.getBaseColorFactor();
    const plain = r === 1 && g === 1 && b === 1;
    return { name: m.getName() || `Material ${i + 1}`, color: plain ? materialColor(i) : [r, g, b] };
  });
  const parts: Part[] = [];
  const first = new Map<Mesh, Part>();
  const visit = (node: Node, path: string[], depth: number) => {
    if (depth > 200) throw new UserError(`${options.name} nests its nodes too deeply.`);
    const mesh = node.getMesh();
    const name = node.getName() || mesh?.getName() || `Part ${parts.length + 1}`;
    if (mesh && hasTriangles(mesh))
      parts.push(partOf(node, mesh, name, path, parts.length, first, root.listMaterials(), options.name));
    for (const child of node.listChildren()) visit(child, [...path, name], depth + 1);
  };
  for (const scene of scenesOf(document)) for (const node of scene.listChildren()) visit(node, [], 0);
  if (!parts.length) throw new UserError(`${options.name} holds no triangles.`);
  return {
    id: options.id ?? "asset",
    name: options.name.replace(/\.[^.]*$/, ""),
    unit: options.unit ?? "m",
    up: "y",
    parts,
    materials,
    source: { name: options.name, format: bytes[0] === 0x67 ? "glb" : "gltf", bytes },
  };
}

const scenesOf = (document: Document): Scene[] => {
  const root = document.getRoot();
  const scene = root.getDefaultScene();
  return scene ? [scene] : root.listScenes();
};

const isSurface = (p: Primitive): boolean =>
  [TRIANGLES, STRIP, FAN].includes(p.getMode()) && p.getAttribute("POSITION") !== null;
const hasTriangles = (mesh: Mesh): boolean => mesh.listPrimitives().some((p) => isSurface(p));

function partOf(
  node: Node,
  mesh: Mesh,
  name: string,
  path: string[],
  index: number,
  first: Map<Mesh, Part>,
  materials: readonly unknown[],
  file: string,
): Part {
  const id = `p${index + 1}`;
  const transform = [...node.getWorldMatrix()];
  const known = first.get(mesh);
  const own = { id, name, path, transform, sourceIndex: index };
  if (known) return { ...known, ...own, instanceOf: known.id };
  const { polyMesh, corners } = weld(mesh, materials, file);
  const uvSets = layoutsOf(mesh, polyMesh, corners);
  const part: Part = { ...own, mesh: polyMesh, uvSets };
  first.set(mesh, part);
  return part;
}

/** Vertex numbers of a primitive's triangles. */
function triangleVertices(p: Primitive, file: string): Uint32Array {
  const count = p.getAttribute("POSITION")!.getCount();
  const indices = p.getIndices();
  const list = indices ? Uint32Array.from(indices.getArray()!) : Uint32Array.from({ length: count }, (_, i) => i);
  for (const i of list) if (i >= count) throw new UserError(`${file} names vertex ${i} of ${count} in a primitive.`);
  if (p.getMode() === TRIANGLES) return list.subarray(0, list.length - (list.length % 3));
  const out: number[] = [];
  for (let i = 2; i < list.length; i++) {
    if (p.getMode() === FAN) out.push(list[0]!, list[i - 1]!, list[i]!);
    else out.push(list[i - 2 + (i % 2)]!, list[i - 1 - (i % 2)]!, list[i]!);
  }
  return Uint32Array.from(out);
}

function cornersOf(mesh: Mesh, file: string): Corners {
  const primitive: number[] = [];
  const vertex: number[] = [];
  mesh.listPrimitives().forEach((p, k) => {
    if (!isSurface(p)) return;
    for (const v of triangleVertices(p, file)) {
      primitive.push(k);
      vertex.push(v);
    }
  });
  return { primitive: Uint32Array.from(primitive), vertex: Uint32Array.from(vertex) };
}

function weld(mesh: Mesh, materials: readonly unknown[], file: string): { polyMesh: PolyMesh; corners: Corners } {
  const corners = cornersOf(mesh, file);
  const primitives = mesh.listPrimitives();
  const arrays = primitives.map((p) => p.getAttribute("POSITION"));
  const positions: number[] = [];
  const at = new Map<string, number>();
  const known = primitives.map((p) => new Int32Array(p.getAttribute("POSITION")?.getCount() ?? 0).fill(-1));
  const cornerVertex = new Uint32Array(corners.vertex.length);
  const element: number[] = [0, 0, 0];
  for (let c = 0; c < cornerVertex.length; c++) {
    const k = corners.primitive[c]!;
    const v = corners.vertex[c]!;
    if (known[k]![v] === -1) {
      arrays[k]!.getElement(v, element);
      if (!element.every(Number.isFinite)) throw new UserError(`${file} has a vertex without a finite position.`);
      const key = `${element[0]! + 0},${element[1]! + 0},${element[2]! + 0}`;
      let number = at.get(key);
      if (number === undefined) {
        number = positions.length / 3;
        positions.push(...element.slice(0, 3));
        at.set(key, number);
      }
      known[k]![v] = number;
    }
    cornerVertex[c] = known[k]![v]!;
  }
  const faces = cornerVertex.length / 3;
  const polyMesh: PolyMesh = {
    positions: Float64Array.from(positions),
    faceStart: Uint32Array.from({ length: faces + 1 }, (_, f) => 3 * f),
    cornerVertex,
    faceMaterial: Uint32Array.from({ length: faces }, (_, f) => {
      const material = primitives[corners.primitive[3 * f]!]!.getMaterial();
      return material ? materials.indexOf(material) : NONE;
    }),
    faceGroup: new Uint32Array(faces).fill(NONE),
    groups: [],
    origin: {
      vertex: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i),
      face: Uint32Array.from({ length: faces }, (_, f) => f),
    },
  };
  return { polyMesh, corners };
}

/** The layouts of all texture coordinate sets of a mesh; v is flipped here and where it is written, nowhere else. */
function layoutsOf(mesh: Mesh, polyMesh: PolyMesh, corners: Corners): UvSet[] {
  const primitives = mesh.listPrimitives();
  const sets: UvSet[] = [];
  const element = [0, 0];
  for (let n = 0; ; n++) {
    const arrays = primitives.map((p) => p.getAttribute(`TEXCOORD_${n}`));
    if (arrays.every((a) => !a)) break;
    const uv = new Float64Array(2 * corners.vertex.length).fill(Number.NaN);
    for (let c = 0; c < corners.vertex.length; c++) {
      const array = arrays[corners.primitive[c]!];
      if (!array) continue;
      array.getElement(corners.vertex[c]!, element);
      uv[2 * c] = element[0]!;
      uv[2 * c + 1] = 1 - element[1]!;
    }
    sets.push(layoutFromCorners(polyMesh, `UV ${n + 1}`, uv));
  }
  return sets.length ? sets : [emptyLayout(polyMesh, "UV 1")];
}

/**
 * Writes an asset as GLB. An asset that came from glTF is written back into it: only texture coordinates differ, and
 * what they force (split vertices).
 */
export async function writeGlb(asset: Asset): Promise<Uint8Array> {
  const { format, bytes, name } = asset.source;
  const document = bytes && (format === "glb" || format === "gltf") ? await open(bytes, name) : compose(asset);
  if (bytes && format !== "obj" && format !== "made") writeBack(document, asset, name);
  return new WebIO().writeBinary(document);
}

function writeBack(document: Document, asset: Asset, file: string): void {
  const meshes = new Map<Mesh, Part>();
  let index = 0;
  const visit = (node: Node) => {
    const mesh = node.getMesh();
    if (mesh && hasTriangles(mesh)) {
      const part = asset.parts.find((p) => p.sourceIndex === index);
      if (part && !meshes.has(mesh)) meshes.set(mesh, part);
      index++;
    }
    for (const child of node.listChildren()) visit(child);
  };
  for (const scene of scenesOf(document)) for (const node of scene.listChildren()) visit(node);
  for (const [mesh, part] of meshes) {
    const corners = cornersOf(mesh, file);
    let at = 0;
    mesh.listPrimitives().forEach((p) => {
      if (!isSurface(p)) return;
      const count = triangleVertices(p, file).length;
      rewritePrimitive(document, p, part, corners.vertex.subarray(at, at + count), at);
      at += count;
    });
  }
}

/** Gives a primitive the part's coordinates, splitting file vertices whose corners no longer agree. */
function rewritePrimitive(
  document: Document,
  p: Primitive,
  part: Part,
  vertex: Uint32Array,
  firstCorner: number,
): void {
  const structures = part.uvSets.map((set) => structureOf(part.mesh, set));
  const number = new Map<string, number>();
  const from: number[] = [];
  const sample: number[] = [];
  const indices = new Uint32Array(vertex.length);
  for (let i = 0; i < vertex.length; i++) {
    const c = firstCorner + i;
    const key = `${vertex[i]}|${structures.map((s) => s.cornerWedge[c]).join()}`;
    let n = number.get(key);
    if (n === undefined) {
      n = from.push(vertex[i]!) - 1;
      sample.push(c);
      number.set(key, n);
    }
    indices[i] = n;
  }
  const buffer = document.getRoot().listBuffers()[0] ?? document.createBuffer();
  for (const semantic of p.listSemantics()) {
    const old = p.getAttribute(semantic)!;
    if (!semantic.startsWith("TEXCOORD_")) p.setAttribute(semantic, picked(document, old, from));
  }
  for (const target of p.listTargets())
    for (const semantic of target.listSemantics())
      target.setAttribute(semantic, picked(document, target.getAttribute(semantic)!, from));
  part.uvSets.forEach((set, k) => {
    const array = new Float32Array(2 * from.length);
    for (let i = 0; i < from.length; i++) {
      const w = structures[k]!.cornerWedge[sample[i]!]!;
      array[2 * i] = set.uv[2 * w]!;
      array[2 * i + 1] = 1 - set.uv[2 * w + 1]!;
    }
    p.setAttribute(`TEXCOORD_${k}`, document.createAccessor().setType("VEC2").setArray(array).setBuffer(buffer));
  });
  p.setIndices(document.createAccessor().setType("SCALAR").setArray(compact(indices, from.length)).setBuffer(buffer));
  p.setMode(TRIANGLES);
}

const compact = (indices: Uint32Array<ArrayBuffer>, count: number) =>
  count < 65535 ? Uint16Array.from(indices) : indices;

function picked(document: Document, old: Accessor, from: readonly number[]): Accessor {
  const size = old.getElementSize();
  const source = old.getArray()!;
  const array = new (source.constructor as new (n: number) => typeof source)(size * from.length);
  for (let i = 0; i < from.length; i++)
    for (let d = 0; d < size; d++) array[size * i + d] = source[size * from[i]! + d]!;
  return document
    .createAccessor(old.getName())
    .setType(old.getType())
    .setNormalized(old.getNormalized())
    .setBuffer(old.getBuffer())
    .setArray(array);
}

/** A new document: one node a part, one primitive a material, triangulated as measured. */
function compose(asset: Asset): Document {
  const document = new GltfDocument();
  const buffer = document.createBuffer();
  const scene = document.createScene(asset.name);
  const materials = asset.materials.map((m) =>
    document
      .createMaterial(m.name)
      .setBaseColorFactor([...m.color, 1])
      .setRoughnessFactor(0.8)
      .setMetallicFactor(0),
  );
  const meshes = new Map<string, Mesh>();
  for (const part of layoutParts(asset)) {
    const mesh = document.createMesh(part.name);
    const { face } = trianglesOf(part.mesh);
    const byMaterial = new Map<number, number[]>();
    for (let t = 0; t < face.length; t++) {
      const m = part.mesh.faceMaterial[face[t]!]!;
      byMaterial.set(m, [...(byMaterial.get(m) ?? []), t]);
    }
    for (const [m, triangles] of byMaterial) {
      const primitive = composePrimitive(document, buffer, part, triangles);
      if (m !== NONE) primitive.setMaterial(materials[m]!);
      mesh.addPrimitive(primitive);
    }
    meshes.set(part.id, mesh);
  }
  for (const part of asset.parts) {
    const node = document.createNode(part.name).setMesh(meshes.get(part.instanceOf ?? part.id)!);
    node.setMatrix(part.transform as Parameters<Node["setMatrix"]>[0]);
    scene.addChild(node);
  }
  return document;
}

function composePrimitive(
  document: Document,
  buffer: ReturnType<Document["createBuffer"]>,
  part: Part,
  triangles: readonly number[],
): Primitive {
  const { mesh } = part;
  const { corners, face } = trianglesOf(mesh);
  const sets = part.uvSets.filter((set) => triangles.some((t) => getBit(set.mapped, face[t]!)));
  const structures = part.uvSets.map((set) => structureOf(mesh, set));
  const number = new Map<string, number>();
  const sample: number[] = [];
  const indices = new Uint32Array(3 * triangles.length);
  triangles.forEach((t, i) => {
    for (let k = 0; k < 3; k++) {
      const c = corners[3 * t + k]!;
      const normal = mesh.cornerNormal ? mesh.cornerNormal.subarray(3 * c, 3 * c + 3).join() : "";
      const key = `${mesh.cornerVertex[c]}|${structures.map((s) => s.cornerWedge[c]).join()}|${normal}`;
      let n = number.get(key);
      if (n === undefined) {
        n = sample.push(c) - 1;
        number.set(key, n);
      }
      indices[3 * i + k] = n;
    }
  });
  const vec = (type: "VEC2" | "VEC3", size: number, value: (c: number, d: number) => number) => {
    const array = new Float32Array(size * sample.length);
    sample.forEach((c, i) => {
      for (let d = 0; d < size; d++) array[size * i + d] = value(c, d);
    });
    return document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  };
  const primitive = document
    .createPrimitive()
    .setIndices(document.createAccessor().setType("SCALAR").setArray(compact(indices, sample.length)).setBuffer(buffer))
    .setAttribute(
      "POSITION",
      vec("VEC3", 3, (c, d) => mesh.positions[3 * mesh.cornerVertex[c]! + d]!),
    );
  if (mesh.cornerNormal)
    primitive.setAttribute(
      "NORMAL",
      vec("VEC3", 3, (c, d) => mesh.cornerNormal![3 * c + d]!),
    );
  sets.forEach((set, n) => {
    const s = structureOf(mesh, set);
    const value = (c: number, d: number) => set.uv[2 * s.cornerWedge[c]! + d]!;
    primitive.setAttribute(
      `TEXCOORD_${n}`,
      vec("VEC2", 2, (c, d) => (d === 0 ? value(c, 0) : 1 - value(c, 1))),
    );
  });
  return primitive;
}
