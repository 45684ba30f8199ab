import { z } from "zod";
import { type Asset, type LayoutChange, type Part, UNITS } from "../layout/asset";
import { UserError } from "../layout/user-error";
import { structureOf, type UvSet } from "../layout/uv-set";
import { NONE, type PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { decodeBundle, encodeBundle, type Numbers } from "./bundle";

const ArrayRef = z.number().int().min(0);

const LayoutJson = z.object({ name: z.string(), cut: ArrayRef, mapped: ArrayRef, uv: ArrayRef, pinned: ArrayRef });

const MeshJson = z.object({
  positions: ArrayRef,
  faceStart: ArrayRef,
  cornerVertex: ArrayRef,
  faceMaterial: ArrayRef,
  faceGroup: ArrayRef,
  cornerNormal: ArrayRef.optional(),
  originVertex: ArrayRef,
  originFace: ArrayRef,
  groups: z.array(z.string()),
});

const PartJson = z.object({
  id: z.string().min(1).max(200),
  name: z.string().max(1000),
  path: z.array(z.string()),
  transform: z.array(z.number()).length(16),
  instanceOf: z.string().optional(),
  sourceIndex: z.number().int().optional(),
  mesh: MeshJson.optional(),
  uvSets: z.array(LayoutJson),
});

export const AssetJson = z.object({
  id: z.string(),
  name: z.string().min(1).max(300),
  unit: z.enum(UNITS),
  up: z.enum(["y", "z"]),
  parts: z.array(PartJson).min(1),
  materials: z.array(z.object({ name: z.string(), color: z.tuple([z.number(), z.number(), z.number()]) })),
  source: z.object({
    name: z.string().max(300),
    format: z.enum(["obj", "glb", "gltf", "made"]),
    bytes: ArrayRef.optional(),
  }),
});
export type AssetJson = z.infer<typeof AssetJson>;

/** Collects arrays and hands out their numbers. */
class Arrays {
  readonly list: Numbers[] = [];
  add = (a: Numbers): number => this.list.push(a) - 1;
}

const layoutJson = (set: UvSet, arrays: Arrays) => ({
  name: set.name,
  cut: arrays.add(set.cut),
  mapped: arrays.add(set.mapped),
  uv: arrays.add(set.uv),
  pinned: arrays.add(set.pinned),
});

function meshJson(mesh: PolyMesh, arrays: Arrays): z.infer<typeof MeshJson> {
  return {
    positions: arrays.add(mesh.positions),
    faceStart: arrays.add(mesh.faceStart),
    cornerVertex: arrays.add(mesh.cornerVertex),
    faceMaterial: arrays.add(mesh.faceMaterial),
    faceGroup: arrays.add(mesh.faceGroup),
    ...(mesh.cornerNormal ? { cornerNormal: arrays.add(mesh.cornerNormal) } : {}),
    originVertex: arrays.add(mesh.origin.vertex),
    originFace: arrays.add(mesh.origin.face),
    groups: [...mesh.groups],
  };
}

/** An asset as one block of bytes; instances carry no mesh of their own. */
export function encodeAsset(asset: Asset): Uint8Array<ArrayBuffer> {
  const arrays = new Arrays();
  const json: AssetJson = {
    id: asset.id,
    name: asset.name,
    unit: asset.unit,
    up: asset.up,
    parts: asset.parts.map((part) => ({
      id: part.id,
      name: part.name,
      path: [...part.path],
      transform: [...part.transform],
      ...(part.sourceIndex !== undefined ? { sourceIndex: part.sourceIndex } : {}),
      ...(part.instanceOf !== undefined
        ? { instanceOf: part.instanceOf, uvSets: [] }
        : { mesh: meshJson(part.mesh, arrays), uvSets: part.uvSets.map((set) => layoutJson(set, arrays)) }),
    })),
    materials: asset.materials.map((m) => ({ name: m.name, color: [...m.color] as [number, number, number] })),
    source: {
      name: asset.source.name,
      format: asset.source.format,
      ...(asset.source.bytes ? { bytes: arrays.add(asset.source.bytes) } : {}),
    },
  };
  return encodeBundle(json, arrays.list);
}

const fault = (part: string, what: string) => new UserError(`The data of part ${part} does not fit together: ${what}.`);

function reader(arrays: readonly Numbers[], part: string) {
  return <T extends Numbers>(index: number, kind: abstract new (n: number) => T): T => {
    const a = arrays[index];
    if (!(a instanceof kind)) throw fault(part, "an array is missing or of another kind");
    return a;
  };
}

function readMesh(
  json: z.infer<typeof MeshJson>,
  arrays: readonly Numbers[],
  name: string,
  materials: number,
): PolyMesh {
  const read = reader(arrays, name);
  const mesh: PolyMesh = {
    positions: read(json.positions, Float64Array),
    faceStart: read(json.faceStart, Uint32Array),
    cornerVertex: read(json.cornerVertex, Uint32Array),
    faceMaterial: read(json.faceMaterial, Uint32Array),
    faceGroup: read(json.faceGroup, Uint32Array),
    ...(json.cornerNormal !== undefined ? { cornerNormal: read(json.cornerNormal, Float32Array) } : {}),
    groups: json.groups,
    origin: { vertex: read(json.originVertex, Uint32Array), face: read(json.originFace, Uint32Array) },
  };
  const faces = mesh.faceStart.length - 1;
  const vertices = mesh.positions.length / 3;
  if (faces < 0 || mesh.faceStart[0] !== 0 || mesh.faceStart[faces] !== mesh.cornerVertex.length)
    throw fault(name, "its faces");
  for (let f = 0; f < faces; f++) if (mesh.faceStart[f + 1]! < mesh.faceStart[f]! + 3) throw fault(name, "its faces");
  if (!Number.isInteger(vertices) || mesh.cornerVertex.some((v) => v >= vertices)) throw fault(name, "its vertices");
  if (!mesh.positions.every(Number.isFinite)) throw fault(name, "a position is not finite");
  if (mesh.faceMaterial.length !== faces || mesh.faceMaterial.some((m) => m !== NONE && m >= materials))
    throw fault(name, "its materials");
  if (mesh.faceGroup.length !== faces || mesh.origin.face.length !== faces || mesh.origin.vertex.length !== vertices)
    throw fault(name, "its origin");
  if (mesh.cornerNormal && mesh.cornerNormal.length !== 3 * mesh.cornerVertex.length) throw fault(name, "its normals");
  return mesh;
}

/** Checks that a layout's arrays have the sizes its mesh and bits ask for. @throws UserError */
export function checkLayout(mesh: PolyMesh, set: UvSet, name: string): UvSet {
  const bytes = (count: number) => (count + 7) >> 3;
  const faces = mesh.faceStart.length - 1;
  if (set.cut.length !== bytes(topologyOf(mesh).edgeCount) || set.mapped.length !== bytes(faces))
    throw fault(name, "its seams");
  const { wedgeCount } = structureOf(mesh, set);
  if (set.uv.length !== 2 * wedgeCount || set.pinned.length !== bytes(wedgeCount)) throw fault(name, "its coordinates");
  if (!set.uv.every(Number.isFinite)) throw fault(name, "a coordinate is not finite");
  return set;
}

function readLayout(json: z.infer<typeof LayoutJson>, arrays: readonly Numbers[], part: string): UvSet {
  const read = reader(arrays, part);
  return {
    name: json.name,
    cut: read(json.cut, Uint8Array),
    mapped: read(json.mapped, Uint8Array),
    uv: read(json.uv, Float64Array),
    pinned: read(json.pinned, Uint8Array),
  };
}

/** Reads and checks an asset. @throws UserError when it does not fit together */
export function decodeAsset(bytes: Uint8Array): Asset {
  const { json: raw, arrays } = decodeBundle(bytes);
  const parsed = AssetJson.safeParse(raw);
  if (!parsed.success)
    throw new UserError(
      `The asset cannot be read: ${parsed.error.issues[0]!.path.join(".")}: ${parsed.error.issues[0]!.message}.`,
    );
  const json = parsed.data;
  const parts: Part[] = [];
  for (const p of json.parts) {
    const base = {
      id: p.id,
      name: p.name,
      path: p.path,
      transform: p.transform,
      ...(p.sourceIndex !== undefined ? { sourceIndex: p.sourceIndex } : {}),
    };
    if (parts.some((q) => q.id === p.id)) throw fault(p.name, "its id is taken");
    if (p.instanceOf !== undefined) {
      const owner = parts.find((q) => q.id === p.instanceOf && q.instanceOf === undefined);
      if (!owner) throw fault(p.name, "it repeats a part that is not there");
      parts.push({ ...base, instanceOf: owner.id, mesh: owner.mesh, uvSets: owner.uvSets });
      continue;
    }
    if (!p.mesh) throw fault(p.name, "it has no mesh");
    const mesh = readMesh(p.mesh, arrays, p.name, json.materials.length);
    parts.push({
      ...base,
      mesh,
      uvSets: p.uvSets.map((set) => checkLayout(mesh, readLayout(set, arrays, p.name), p.name)),
    });
  }
  const { bytes: source, ...file } = json.source;
  return {
    id: json.id,
    name: json.name,
    unit: json.unit,
    up: json.up,
    parts,
    materials: json.materials,
    source: { ...file, ...(source !== undefined ? { bytes: reader(arrays, "source")(source, Uint8Array) } : {}) },
  };
}

const ChangesJson = z.object({
  changes: z.array(z.object({ part: z.string(), set: z.number().int().min(0).max(64), layout: LayoutJson })),
});

/** Layout changes with some JSON beside them, as one block of bytes. */
export function encodeChanges(
  changes: readonly LayoutChange[],
  beside: Record<string, unknown>,
): Uint8Array<ArrayBuffer> {
  const arrays = new Arrays();
  const json = {
    ...beside,
    changes: changes.map((c) => ({ part: c.part, set: c.set, layout: layoutJson(c.layout, arrays) })),
  };
  return encodeBundle(json, arrays.list);
}

/** Reads layout changes and what stands beside them. @throws UserError */
export function decodeChanges<T>(bytes: Uint8Array, beside: z.ZodType<T>): { changes: LayoutChange[]; beside: T } {
  const { json, arrays } = decodeBundle(bytes);
  const parsed = ChangesJson.safeParse(json);
  const rest = beside.safeParse(json);
  if (!parsed.success || !rest.success) throw new UserError("The edit cannot be read.");
  return {
    changes: parsed.data.changes.map((c) => ({
      part: c.part,
      set: c.set,
      layout: readLayout(c.layout, arrays, c.part),
    })),
    beside: rest.data,
  };
}
