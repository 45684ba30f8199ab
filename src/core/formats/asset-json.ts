import { z } from "zod";
import { type Asset, type Part, type PartBody, PURPOSES, STATUSES, UNITS } from "../layout/asset";
import { type AssetHead, bodyOf, recordOf } from "../layout/delta";
import { UserError } from "../layout/user-error";
import { FARTHEST_UV, structureOf, type UvSet } from "../layout/uv-set";
import { NONE, type PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import type { Numbers } from "./bundle";

// Assets as JSON whose arrays stand apart, by number: in bundles that travel, and in the rows of the database.

const ArrayRef = z.number().int().min(0);
const Name = z.string().max(1000);
const PartIdJson = z.string().min(1).max(200);

export const LayoutJson = z.object({ cut: ArrayRef, mapped: ArrayRef, uv: ArrayRef, pinned: ArrayRef });

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

export const RecordJson = z.object({
  id: PartIdJson,
  name: Name,
  path: z.array(Name).max(200),
  transform: z.array(z.number()).length(16),
  instanceOf: PartIdJson.optional(),
  sourceIndex: z.number().int().optional(),
  label: z.number().int().min(0).max(15).optional(),
  status: z.enum(STATUSES).optional(),
  locked: z.string().max(300).optional(),
  pivot: z.tuple([z.number(), z.number(), z.number()]).optional(),
});

/** A part within another: what was merged, or what a piece was split off. Such parts nest no deeper. */
interface InnerJson {
  record: z.infer<typeof RecordJson>;
  body: BodyJson;
  uvSets: Array<z.infer<typeof LayoutJson> | null>;
}
interface BodyJson {
  mesh: z.infer<typeof MeshJson>;
  merged?: InnerJson[] | undefined;
  split?: { whole: InnerJson; faces: number } | undefined;
}
export const BodyJson: z.ZodType<BodyJson> = z.lazy(() =>
  z.object({
    mesh: MeshJson,
    merged: z.array(InnerJson).optional(),
    split: z.object({ whole: InnerJson, faces: ArrayRef }).optional(),
  }),
);
const InnerJson: z.ZodType<InnerJson> = z.object({
  record: RecordJson,
  body: BodyJson,
  uvSets: z.array(LayoutJson.nullable()),
});

export const HeadJson = z.object({
  unit: z.enum(UNITS),
  up: z.enum(["y", "z"]),
  sets: z
    .array(
      z.object({
        id: z.string().min(1).max(100),
        name: Name,
        purpose: z.enum(PURPOSES),
        exportAs: z.number().int().min(0).max(7).nullable(),
      }),
    )
    .min(1)
    .max(32),
  materials: z.array(
    z.object({
      name: Name,
      color: z.tuple([z.number(), z.number(), z.number()]),
      texture: z.object({ image: z.string(), set: z.string() }).optional(),
    }),
  ),
  images: z.array(z.object({ key: z.string().max(100), name: Name, type: z.string().max(100) })),
  source: z.object({
    name: z.string().max(300),
    format: z.enum(["obj", "glb", "gltf", "ply", "stl", "made"]),
    key: z.string().max(100).optional(),
  }),
  order: z.array(PartIdJson).min(1),
});

/** Collects arrays, each once, and hands out their numbers. */
export class Arrays {
  readonly list: Numbers[] = [];
  private readonly known = new Map<Numbers, number>();

  add = (a: Numbers): number => {
    let at = this.known.get(a);
    if (at === undefined) {
      at = this.list.push(a) - 1;
      this.known.set(a, at);
    }
    return at;
  };
}

export const layoutJson = (set: UvSet, arrays: Arrays): z.infer<typeof LayoutJson> => ({
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

const innerJson = (part: Part, arrays: Arrays): InnerJson => ({
  record: RecordJson.parse(recordOf(part)),
  body: bodyJson(part, arrays),
  uvSets: Array.from(part.uvSets, (set) => (set ? layoutJson(set, arrays) : null)),
});

export function bodyJson(body: PartBody, arrays: Arrays): BodyJson {
  const { mesh, merged, split } = body;
  return {
    mesh: meshJson(mesh, arrays),
    ...(merged ? { merged: merged.map((p) => innerJson(p, arrays)) } : {}),
    ...(split ? { split: { whole: innerJson(split.whole, arrays), faces: arrays.add(split.faces) } } : {}),
  };
}

const fault = (part: string, what: string) => new UserError(`The data of part ${part} does not fit together: ${what}.`);

/** Checks arrays against their kind as they are taken. */
export function reader(arrays: readonly Numbers[], part: string) {
  return <T extends Numbers>(index: number, kind: abstract new (n: number) => T): T => {
    const a = arrays[index];
    if (!(a instanceof kind)) throw fault(part, "an array is missing or of another kind");
    return a;
  };
}

/** How much a reader is to check: what comes from outside everything, what the own database wrote only its kinds. */
export type Trust = "check" | "own";

function readMesh(json: z.infer<typeof MeshJson>, arrays: readonly Numbers[], name: string): PolyMesh {
  const read = reader(arrays, name);
  return {
    positions: read(json.positions, Float64Array),
    faceStart: read(json.faceStart, Uint32Array),
    cornerVertex: read(json.cornerVertex, Uint32Array),
    faceMaterial: read(json.faceMaterial, Uint32Array),
    faceGroup: read(json.faceGroup, Uint32Array),
    ...(json.cornerNormal !== undefined ? { cornerNormal: read(json.cornerNormal, Float32Array) } : {}),
    groups: json.groups,
    origin: { vertex: read(json.originVertex, Uint32Array), face: read(json.originFace, Uint32Array) },
  };
}

/** Checks that a mesh fits together. @throws UserError */
export function checkMesh(mesh: PolyMesh, name: string, materials: number): void {
  const faces = mesh.faceStart.length - 1;
  const vertices = mesh.positions.length / 3;
  if (faces < 0 || mesh.faceStart[0] !== 0 || mesh.faceStart[faces] !== mesh.cornerVertex.length)
    throw fault(name, "its faces");
  for (let f = 0; f < faces; f++) if (mesh.faceStart[f + 1]! < mesh.faceStart[f]! + 3) throw fault(name, "its faces");
  if (!Number.isInteger(vertices) || mesh.cornerVertex.some((v) => v >= vertices)) throw fault(name, "its vertices");
  if (!mesh.positions.every(Number.isFinite)) throw fault(name, "a position is not finite");
  if (mesh.faceMaterial.length !== faces || mesh.faceMaterial.some((m) => m !== NONE && m >= materials))
    throw fault(name, "its materials");
  if (mesh.faceGroup.length !== faces || mesh.faceGroup.some((g) => g !== NONE && g >= mesh.groups.length))
    throw fault(name, "its groups");
  if (mesh.origin.face.length !== faces || mesh.origin.vertex.length !== vertices) throw fault(name, "its origin");
  if (mesh.cornerNormal && mesh.cornerNormal.length !== 3 * mesh.cornerVertex.length) throw fault(name, "its normals");
}

/** Checks that a layout's arrays have the sizes its mesh and bits ask for. @throws UserError */
export function checkLayout(mesh: PolyMesh, set: UvSet, name: string): UvSet {
  const bytes = (count: number) => (count + 7) >> 3;
  const faces = mesh.faceStart.length - 1;
  if (set.cut.length !== bytes(topologyOf(mesh).edgeCount) || set.mapped.length !== bytes(faces))
    throw fault(name, "its seams");
  const { wedgeCount } = structureOf(mesh, set);
  if (set.uv.length !== 2 * wedgeCount || set.pinned.length !== bytes(wedgeCount)) throw fault(name, "its coordinates");
  if (!set.uv.every((x) => Math.abs(x) <= FARTHEST_UV)) throw fault(name, "a coordinate is out of reach");
  return set;
}

/** Checks every shape and layout of an asset. @throws UserError naming the part at fault */
export function checkAsset(asset: Asset): Asset {
  const seen = new Set<string>();
  const setIds = new Set(asset.sets.map((s) => s.id));
  if (setIds.size !== asset.sets.length) throw new UserError("Two UV sets of the asset have the same id.");
  for (const part of asset.parts) {
    if (seen.has(part.id)) throw fault(part.name, "its id is taken");
    seen.add(part.id);
    if (part.instanceOf === undefined) checkPart(part, asset.materials.length);
  }
  for (const { instanceOf, name } of asset.parts)
    if (instanceOf !== undefined && !asset.parts.some((p) => p.id === instanceOf && p.instanceOf === undefined))
      throw fault(name, "it repeats a part that is not there");
  return asset;
}

export function checkPart(part: Part, materials: number, depth = 0): void {
  if (depth > 4) throw fault(part.name, "it nests too deeply");
  checkMesh(part.mesh, part.name, materials);
  for (const set of part.uvSets) if (set) checkLayout(part.mesh, set, part.name);
  for (const inner of part.merged ?? []) checkPart(inner, materials, depth + 1);
  if (
    part.merged &&
    part.merged.reduce((n, p) => n + p.mesh.faceStart.length - 1, 0) !== part.mesh.faceStart.length - 1
  )
    throw fault(part.name, "what it was merged from");
  if (!part.split) return;
  checkPart(part.split.whole, materials, depth + 1);
  const faces = part.split.whole.mesh.faceStart.length - 1;
  if (part.split.faces.length !== part.mesh.faceStart.length - 1 || part.split.faces.some((f) => f >= faces))
    throw fault(part.name, "what it was split off");
}

export function readLayout(json: z.infer<typeof LayoutJson>, arrays: readonly Numbers[], part: string): UvSet {
  const read = reader(arrays, part);
  return {
    cut: read(json.cut, Uint8Array),
    mapped: read(json.mapped, Uint8Array),
    uv: read(json.uv, Float64Array),
    pinned: read(json.pinned, Uint8Array),
  };
}

/** A part's record out of checked JSON, without keys that are there but undefined. */
export const readRecord = (json: z.infer<typeof RecordJson>) => recordOf(json as unknown as Part);

const readInner = (json: InnerJson, arrays: readonly Numbers[]): Part => ({
  ...readRecord(json.record),
  ...readBody(json.body, arrays, json.record.name),
  uvSets: json.uvSets.map((set) => (set ? readLayout(set, arrays, json.record.name) : undefined)),
});

export function readBody(json: BodyJson, arrays: readonly Numbers[], part: string): PartBody {
  return bodyOf({
    mesh: readMesh(json.mesh, arrays, part),
    ...(json.merged ? { merged: json.merged.map((p) => readInner(p, arrays)) } : {}),
    ...(json.split
      ? {
          split: {
            whole: readInner(json.split.whole, arrays),
            faces: reader(arrays, part)(json.split.faces, Uint32Array),
          },
        }
      : {}),
  } as Part);
}

/** The head out of checked JSON. */
export const readHead = (json: z.infer<typeof HeadJson>): AssetHead => json as AssetHead;

export const badJson = (what: string, error: z.ZodError): UserError =>
  new UserError(`${what} cannot be read: ${error.issues[0]!.path.join(".")}: ${error.issues[0]!.message}.`);
