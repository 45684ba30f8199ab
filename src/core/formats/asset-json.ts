import { z } from "zod";
import {
  type Asset,
  CHANNELS,
  LABELS,
  type Part,
  PURPOSES,
  type Remembered,
  type Shape,
  type ShapeBody,
  STATUSES,
  UNITS,
  type UvSetId,
} from "../layout/asset";
import { type AssetHead, bodyOf, partRecord } from "../layout/delta";
import { FARTHEST_UV, type Layout, structureOf } from "../layout/layout";
import { MOST_NAMED, NamedSelection } from "../layout/named-selection";
import { Plots } from "../layout/plots";
import { RULES, Rules } from "../layout/rules";
import { MOST_LOCKS, SeamLock } from "../layout/seam-lock";
import { MOST_MARKS, ShellMark } from "../layout/shell-mark";
import { DEFAULT_TILES } from "../layout/tiles";
import { UP_WAYS } from "../layout/up";
import { UserError } from "../layout/user-error";
import { Views } from "../layout/views";
import { faceCount, NONE, type PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import type { Numbers } from "./bundle";
import { plainText, schemaWords } from "./schema-words";

// Assets as JSON whose arrays stand apart, by number: in bundles that travel, and in the rows of the database.

export const ArrayRef = z.number().int().min(0);
const Name = plainText(1000);
const Id = plainText(200, 1);

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
  groups: z.array(Name),
});

export const PartJson = z.object({
  id: Id,
  shape: Id,
  name: Name,
  path: z.array(Name).max(200),
  transform: z.array(z.number()).length(16),
  sourceIndex: z.number().int().optional(),
  label: z
    .number()
    .int()
    .min(0)
    .max(LABELS.length - 1)
    .optional(),
  up: z.enum(UP_WAYS).optional(),
  status: z.enum(STATUSES).optional(),
  locked: z.string().max(300).optional(),
  pivot: z.tuple([z.number(), z.number(), z.number()]).optional(),
});

/** A part with its shape within another shape: what was merged, or what a piece was split off. */
interface InnerJson {
  part: z.infer<typeof PartJson>;
  shape: BodyJson;
  layouts: Record<UvSetId, z.infer<typeof LayoutJson>>;
}
interface BodyJson {
  mesh: z.infer<typeof MeshJson>;
  merged?: InnerJson[] | undefined;
  split?: { whole: InnerJson; faces: number } | undefined;
}

/** Shapes within shapes: merging what was split off what was merged goes no deeper than this. */
const DEEPEST = 4;

function bodySchema(depth: number): z.ZodType<BodyJson> {
  if (depth === 0) return z.object({ mesh: MeshJson }).strict();
  const inner = z.object({
    part: PartJson,
    shape: bodySchema(depth - 1),
    layouts: z.record(z.string(), LayoutJson),
  });
  return z.object({
    mesh: MeshJson,
    merged: z.array(inner).optional(),
    split: z.object({ whole: inner, faces: ArrayRef }).optional(),
  });
}
export const BodyJson = bodySchema(DEEPEST);

const Texels = z.number().int().min(16).max(16_384);

const LaidJson = { image: plainText(100), set: Id };

export const HeadJson = z.object({
  unit: z.enum(UNITS),
  up: z.enum(["y", "z"]),
  sets: z
    .array(
      z.object({
        id: Id,
        name: Name,
        purpose: z.enum(PURPOSES),
        exportAs: z.number().int().min(0).max(7).nullable(),
      }),
    )
    .min(1)
    .max(32),
  tiles: z
    .object({ resolution: Texels, own: z.record(z.string().regex(/^[1-9]\d{3}$/), Texels) })
    .default(DEFAULT_TILES),
  rules: Rules.default(RULES),
  selections: z.array(NamedSelection).max(MOST_NAMED).default([]),
  seamLocks: z.array(SeamLock).max(MOST_LOCKS).default([]),
  views: Views.default([]),
  plots: Plots.default([]),
  shellMarks: z.array(ShellMark).max(MOST_MARKS).default([]),
  materials: z.array(
    z.object({
      name: Name,
      color: z.tuple([z.number(), z.number(), z.number()]),
      texture: z.object(LaidJson).optional(),
      maps: z
        .array(z.object({ ...LaidJson, channel: z.enum(CHANNELS) }))
        .max(CHANNELS.length)
        .optional(),
    }),
  ),
  images: z.array(
    z.object({ key: plainText(100), name: Name, type: plainText(100), redrawn: z.literal(true).optional() }),
  ),
  source: z.object({
    name: plainText(300),
    format: z.enum(["obj", "glb", "gltf", "ply", "stl", "made"]),
    key: plainText(100).optional(),
  }),
  order: z.array(Id).min(1),
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

const layoutJson = (set: Layout, arrays: Arrays): z.infer<typeof LayoutJson> => ({
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

const innerJson = ({ part, shape }: Remembered, arrays: Arrays): InnerJson => ({
  part: PartJson.parse(partRecord(part)),
  shape: bodyJson(shape, arrays),
  layouts: layoutsJson(shape, arrays),
});

/** The layouts of a shape by the ids of their sets. */
export const layoutsJson = (shape: Shape, arrays: Arrays): Record<UvSetId, z.infer<typeof LayoutJson>> =>
  Object.fromEntries([...shape.layouts].map(([set, layout]) => [set, layoutJson(layout, arrays)]));

export function bodyJson(body: ShapeBody, arrays: Arrays): BodyJson {
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

/** Meshes and layouts that were read from some arrays, so that what is named twice is read, and checked, once. */
const readBefore = new WeakMap<readonly Numbers[], Map<string, unknown>>();

function once<T>(arrays: readonly Numbers[], json: unknown, read: () => T): T {
  let known = readBefore.get(arrays);
  if (!known) {
    known = new Map();
    readBefore.set(arrays, known);
  }
  const key = JSON.stringify(json);
  if (!known.has(key)) known.set(key, read());
  return known.get(key) as T;
}

function readMesh(json: z.infer<typeof MeshJson>, arrays: readonly Numbers[], name: string): PolyMesh {
  return once(arrays, json, () => newMesh(json, arrays, name));
}

function newMesh(json: z.infer<typeof MeshJson>, arrays: readonly Numbers[], name: string): PolyMesh {
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

/** Meshes that were checked, and against how many materials. They never change. */
const sound = new WeakMap<PolyMesh, number>();

/** Checks that a mesh fits together. @throws UserError */
export function checkMesh(mesh: PolyMesh, name: string, materials: number): void {
  if (sound.get(mesh) === materials) return;
  const faces = faceCount(mesh);
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
  sound.set(mesh, materials);
}

/** Layouts that were checked, and for which mesh. */
const fitting = new WeakMap<Layout, PolyMesh>();

/** Checks that a layout's arrays have the sizes its mesh and bits ask for. @throws UserError */
export function checkLayout(mesh: PolyMesh, set: Layout, name: string): Layout {
  if (fitting.get(set) === mesh) return set;
  const bytes = (count: number) => (count + 7) >> 3;
  const faces = faceCount(mesh);
  if (set.cut.length !== bytes(topologyOf(mesh).edgeCount) || set.mapped.length !== bytes(faces))
    throw fault(name, "its seams");
  const { wedgeCount } = structureOf(mesh, set);
  if (set.uv.length !== 2 * wedgeCount || set.pinned.length !== bytes(wedgeCount)) throw fault(name, "its coordinates");
  if (!set.uv.every((x) => Math.abs(x) <= FARTHEST_UV)) throw fault(name, "a coordinate is out of reach");
  fitting.set(set, mesh);
  return set;
}

/** Checks every shape and layout of an asset. @throws UserError naming the part at fault */
export function checkAsset(asset: Asset): Asset {
  checkHead(asset);
  for (const shape of asset.shapes.values()) checkShape(shape, nameOf(asset, shape), asset.materials.length);
  return asset;
}

/** Checks that parts, sets, materials and images fit together. @throws UserError */
export function checkHead(asset: Asset): Asset {
  const sets = new Set(asset.sets.map((s) => s.id));
  if (sets.size !== asset.sets.length) throw new UserError("Two UV sets of the asset have the same id.");
  const seen = new Set<string>();
  for (const part of asset.parts) {
    if (seen.has(part.id)) throw fault(part.name, "its id is taken");
    seen.add(part.id);
    if (!asset.shapes.has(part.shape)) throw fault(part.name, "its shape is not there");
    if (!part.transform.every(Number.isFinite)) throw fault(part.name, "its transform is not finite");
  }
  for (const shape of asset.shapes.values())
    for (const set of shape.layouts.keys())
      if (!sets.has(set)) throw fault(nameOf(asset, shape), "it has a layout in a UV set that is not there");
  return asset;
}

/** A shape goes by the name of the first part that draws it. */
export const nameOf = (asset: Asset, shape: Shape): string =>
  asset.parts.find((p) => p.shape === shape.id)?.name ?? shape.id;

/** Checks a shape with its layouts, and the shapes it remembers. @throws UserError naming it */
export function checkShape(shape: Shape, name: string, materials: number): void {
  checkBody(shape, name, materials);
  for (const layout of shape.layouts.values()) checkLayout(shape.mesh, layout, name);
}

export function checkBody(body: ShapeBody, name: string, materials: number): void {
  checkMesh(body.mesh, name, materials);
  const faces = faceCount(body.mesh);
  for (const { part, shape } of body.merged ?? []) checkShape(shape, part.name, materials);
  if (body.merged && body.merged.reduce((n, p) => n + faceCount(p.shape.mesh), 0) !== faces)
    throw fault(name, "what it was merged from");
  if (!body.split) return;
  const { whole } = body.split;
  checkShape(whole.shape, whole.part.name, materials);
  const most = faceCount(whole.shape.mesh);
  if (body.split.faces.length !== faces || body.split.faces.some((f) => f >= most))
    throw fault(name, "what it was split off");
}

const readLayout = (json: z.infer<typeof LayoutJson>, arrays: readonly Numbers[], name: string): Layout =>
  once(arrays, json, () => {
    const read = reader(arrays, name);
    return {
      cut: read(json.cut, Uint8Array),
      mapped: read(json.mapped, Uint8Array),
      uv: read(json.uv, Float64Array),
      pinned: read(json.pinned, Uint8Array),
    };
  });

/** A part out of checked JSON, without keys that are there but undefined. */
export const readPart = (json: z.infer<typeof PartJson>): Part => partRecord(json as unknown as Part);

export const readLayouts = (
  json: Readonly<Record<UvSetId, z.infer<typeof LayoutJson>>>,
  arrays: readonly Numbers[],
  name: string,
): Map<UvSetId, Layout> =>
  new Map(Object.entries(json).map(([set, layout]) => [set, readLayout(layout, arrays, name)]));

function readInner(json: InnerJson, arrays: readonly Numbers[]): Remembered {
  const part = readPart(json.part);
  const body = readBody(json.shape, arrays, part.name);
  return { part, shape: { ...body, id: part.shape, layouts: readLayouts(json.layouts, arrays, part.name) } };
}

export function readBody(json: BodyJson, arrays: readonly Numbers[], name: string): ShapeBody {
  return bodyOf({
    mesh: readMesh(json.mesh, arrays, name),
    ...(json.merged ? { merged: json.merged.map((p) => readInner(p, arrays)) } : {}),
    ...(json.split
      ? {
          split: {
            whole: readInner(json.split.whole, arrays),
            faces: reader(arrays, name)(json.split.faces, Uint32Array),
          },
        }
      : {}),
  });
}

/** The head out of checked JSON. Data from before some of it existed gets the defaults. */
export const readHead = (json: z.infer<typeof HeadJson>): AssetHead =>
  ({
    ...json,
    tiles: json.tiles ?? DEFAULT_TILES,
    rules: json.rules ?? RULES,
    selections: json.selections ?? [],
    seamLocks: json.seamLocks ?? [],
    views: json.views ?? [],
    plots: json.plots ?? [],
    shellMarks: json.shellMarks ?? [],
  }) as AssetHead;

export const badJson = (what: string, error: z.ZodError): UserError =>
  new UserError(`${what} cannot be read: ${schemaWords(error)}.`);
