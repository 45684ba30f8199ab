import { faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { determinant, IDENTITY, type Mat4 } from "../mesh/transform";
import type { PartId, ShapeId, UvSetId } from "./ids";
import type { Layout } from "./layout";
import type { NamedSelection } from "./named-selection";
import type { Plot } from "./plots";
import type { Rules } from "./rules";
import type { SeamLock } from "./seam-lock";
import type { ShellMark } from "./shell-mark";
import type { Tiles } from "./tiles";
import type { UpWay } from "./up";
import { UserError } from "./user-error";
import type { Views } from "./views";

export type { PartId, ShapeId, UvSetId };

export const UNITS = ["m", "cm", "mm", "in"] as const;
export type Unit = (typeof UNITS)[number];
/** Metres that one unit of length is. */
export const METRES: Readonly<Record<Unit, number>> = { m: 1, cm: 0.01, mm: 0.001, in: 0.0254 };

/** What an image tells beside the base colour. Of these, normals hold directions. */
export const CHANNELS = [
  "normal",
  "bump",
  "roughness",
  "metal",
  "occlusion",
  "emission",
  "specular",
  "opacity",
] as const;
export type Channel = (typeof CHANNELS)[number];

/** An image laid over faces: its key among the asset's images, and the UV set it is mapped by. */
export interface LaidImage {
  readonly image: string;
  readonly set: UvSetId;
}

export interface Material {
  readonly name: string;
  /** Base colour, linear RGB in 0..1, to draw with and to hand on where the source has no own record of it. */
  readonly color: readonly [number, number, number];
  /** The base colour image. */
  readonly texture?: LaidImage;
  /** Images of other channels, one each. */
  readonly maps?: ReadonlyArray<LaidImage & { readonly channel: Channel }>;
}

/** All images that a material lays over its faces. */
export const laidImages = ({ texture, maps = [] }: Material): readonly LaidImage[] =>
  texture ? [texture, ...maps] : maps;

/** A material with what it lays changed, each image in its channel. */
export function withLaid(m: Material, change: (laid: LaidImage) => LaidImage): Material {
  return {
    ...m,
    ...(m.texture ? { texture: change(m.texture) } : {}),
    ...(m.maps ? { maps: m.maps.map((map) => ({ ...change(map), channel: map.channel })) } : {}),
  };
}

/** An image that came with the file, or was drawn anew for another layout. Its bytes are kept under its key. */
export interface Image {
  readonly key: string;
  readonly name: string;
  readonly type: string;
  readonly redrawn?: true;
}

export const PURPOSES = ["unique", "tiling", "light", "packed", "scratch"] as const;
export type Purpose = (typeof PURPOSES)[number];

/** One UV set of the asset. Shapes hold their layouts by its id. */
export interface UvSet {
  /** Stays the same when sets are renamed or reordered. */
  readonly id: UvSetId;
  readonly name: string;
  readonly purpose: Purpose;
  /** Which texture coordinate set it is written as; null leaves it out of exports. */
  readonly exportAs: number | null;
}

/** The file an asset came from. Its bytes are kept under its key, and fetched only to write back into it. */
export interface SourceFile {
  readonly name: string;
  readonly format: "obj" | "glb" | "gltf" | "ply" | "stl" | "made";
  readonly key?: string;
}

/** Colours that parts may be given in the list, by number. */
export const LABELS = ["none", "sumac", "saffron", "cardamom", "pool", "indigo", "clove"] as const;

export const STATUSES = ["untouched", "in work", "done"] as const;
export type Status = (typeof STATUSES)[number];

/**
 * One object as the artist sees it and the parts list shows it: a shape under a name, at a place. Several parts of one
 * shape are instances: what is done to the shape is done to all of them.
 */
export interface Part {
  readonly id: PartId;
  readonly shape: ShapeId;
  readonly name: string;
  /** Groups it lies in, outermost first. */
  readonly path: readonly string[];
  /** To world. */
  readonly transform: Mat4;
  /** Place of the object in the source file, for writing back; absent for parts added later. */
  readonly sourceIndex?: number;
  /** Number of a colour given by hand. */
  readonly label?: number;
  /** Which way is up on it, where that is not the asset's. */
  readonly up?: UpWay;
  readonly status?: Status;
  /** Why it may not be changed. */
  readonly locked?: string;
  /** The point it turns about, in its own space; its origin when absent. */
  readonly pivot?: readonly [number, number, number];
}

/** A part with its shape, as other shapes remember what they were made of. */
export interface Remembered {
  readonly part: Part;
  readonly shape: Shape;
}

/** Faces of another shape, of which this one is a piece split off for the work. */
export interface SplitFrom {
  readonly whole: Remembered;
  /** Its faces, in the order of the piece's own. */
  readonly faces: Uint32Array;
}

/** A mesh and what it was put together from or taken off. */
export interface ShapeBody {
  readonly mesh: PolyMesh;
  /** The parts merged into this one, as they were; its faces are theirs, one part after another. */
  readonly merged?: readonly Remembered[];
  readonly split?: SplitFrom;
}

/** A mesh with its layouts; drawn by one part or several. */
export interface Shape extends ShapeBody {
  readonly id: ShapeId;
  /** By UV set; absent where nothing has been done in that set. */
  readonly layouts: ReadonlyMap<UvSetId, Layout>;
}

/** An immutable value; an edit makes a new one that shares what did not change. */
export interface Asset {
  readonly id: string;
  readonly name: string;
  readonly unit: Unit;
  readonly up: "y" | "z";
  readonly sets: readonly UvSet[];
  readonly tiles: Tiles;
  /** The limits its layouts are checked against, and the findings that are accepted. */
  readonly rules: Rules;
  /** What was picked once and is kept under a name. */
  readonly selections: readonly NamedSelection[];
  /** Seams that no edit takes off. */
  readonly seamLocks: readonly SeamLock[];
  /** From where it will be seen; from all round where none is marked. */
  readonly views: Views;
  /** Rectangles kept for packings. */
  readonly plots: readonly Plot[];
  /** What was said of single shells. */
  readonly shellMarks: readonly ShellMark[];
  readonly parts: readonly Part[];
  /** Exactly the shapes that the parts refer to. */
  readonly shapes: ReadonlyMap<ShapeId, Shape>;
  readonly materials: readonly Material[];
  readonly images: readonly Image[];
  readonly source: SourceFile;
  /** Bytes of source and images by key, as far as they have been fetched. */
  readonly files?: Readonly<Record<string, Uint8Array>>;
}

/** UV sets under numbered names, written as the texture coordinate set of their place. */
export const numberedSets = (count: number): UvSet[] =>
  Array.from({ length: count }, (_, i) => ({ id: `s${i + 1}`, name: `UV ${i + 1}`, purpose: "unique", exportAs: i }));

/** A key for a file's bytes: the same bytes have the same key (FNV-1a in two halves, with the length). */
export function fileKey(bytes: Uint8Array): string {
  let a = 0x811c9dc5;
  let b = 0x01000193;
  for (let i = 0; i < bytes.length; i++) {
    a = Math.imul(a ^ bytes[i]!, 0x01000193);
    b = Math.imul(b + bytes[i]!, 0x85ebca6b) ^ (b >>> 13);
  }
  return `${bytes.length.toString(36)}-${(a >>> 0).toString(36)}-${(b >>> 0).toString(36)}`;
}

/** The asset with bytes of files that it refers to; those of others are let go. */
export function withFiles(asset: Asset, files: Asset["files"] = {}): Asset {
  const wanted = new Set([...asset.images.map((i) => i.key), asset.source.key]);
  const kept = Object.entries({ ...asset.files, ...files }).filter(([key]) => wanted.has(key));
  return kept.length ? { ...asset, files: Object.fromEntries(kept) } : asset;
}

/** The bytes the asset came from, when they have been fetched. */
export const sourceBytes = (asset: Asset): Uint8Array | undefined =>
  asset.source.key === undefined ? undefined : asset.files?.[asset.source.key];

const byIds = new WeakMap<readonly Part[], Map<PartId, Part>>();

export function partById(asset: Asset, id: PartId): Part {
  let map = byIds.get(asset.parts);
  if (!map) {
    map = new Map(asset.parts.map((p) => [p.id, p]));
    byIds.set(asset.parts, map);
  }
  const part = map.get(id);
  if (!part) throw new UserError(`There is no part ${id} in ${asset.name}.`);
  return part;
}

export function shapeById(asset: Asset, id: ShapeId): Shape {
  const shape = asset.shapes.get(id);
  if (!shape) throw new UserError(`There is no shape ${id} in ${asset.name}.`);
  return shape;
}

export const shapeOf = (asset: Asset, part: Part): Shape => shapeById(asset, part.shape);

/** A part together with what it draws, for those who write or draw every part. */
export interface DrawnPart extends Part {
  readonly mesh: PolyMesh;
  readonly layouts: ReadonlyMap<UvSetId, Layout>;
}

export const drawnParts = (asset: Asset): DrawnPart[] =>
  asset.parts.map((part) => {
    const { mesh, layouts } = shapeOf(asset, part);
    return { ...part, mesh, layouts };
  });

/** A shape as operations on layouts see it: known by its first part, measured at its largest. */
export interface PlacedShape extends Shape {
  /** Of the first part that draws it. */
  readonly name: string;
  /** All parts that draw it, in the order of the list. */
  readonly parts: readonly Part[];
  /** The transform all its lengths and areas are taken with: that of the part that draws it largest. */
  readonly metric: Mat4;
}

const placed = new WeakMap<ReadonlyMap<ShapeId, Shape>, { parts: readonly Part[]; list: Map<ShapeId, PlacedShape> }>();

function placedShapes(asset: Asset): Map<ShapeId, PlacedShape> {
  const kept = placed.get(asset.shapes);
  if (kept?.parts === asset.parts) return kept.list;
  const parts = new Map<ShapeId, Part[]>();
  for (const part of asset.parts) {
    const list = parts.get(part.shape);
    if (list) list.push(part);
    else parts.set(part.shape, [part]);
  }
  const list = new Map<ShapeId, PlacedShape>();
  for (const [id, own] of parts) {
    const shape = shapeById(asset, id);
    list.set(id, { ...shape, name: own[0]!.name, parts: own, metric: metricOf(own) });
  }
  placed.set(asset.shapes, { parts: asset.parts, list });
  return list;
}

/** The one rule for the metric of a shape: the transform of the part that draws it largest. */
function metricOf(parts: readonly Part[]): Mat4 {
  let best = parts[0]?.transform ?? IDENTITY;
  for (const { transform } of parts)
    if (Math.abs(determinant(transform)) > Math.abs(determinant(best))) best = transform;
  return best;
}

/** All shapes, in the order in which the parts list shows them first. */
export const shapesOf = (asset: Asset): readonly PlacedShape[] => [...placedShapes(asset).values()];

/** Faces of all shapes. */
export const facesOf = (asset: Asset): number => shapesOf(asset).reduce((sum, { mesh }) => sum + faceCount(mesh), 0);

export function placedShape(asset: Asset, id: ShapeId): PlacedShape {
  const shape = placedShapes(asset).get(id);
  if (!shape) throw new UserError(`There is no shape ${id} in ${asset.name}.`);
  return shape;
}

/** A new layout for a shape in a UV set. */
export interface LayoutChange {
  readonly shape: ShapeId;
  readonly set: UvSetId;
  readonly layout: Layout;
}

/** The asset with some layouts replaced. */
export function withLayouts(asset: Asset, changes: readonly LayoutChange[]): Asset {
  if (!changes.length) return asset;
  const shapes = new Map(asset.shapes);
  for (const { shape: id, set, layout } of changes) {
    const shape = shapes.get(id)!;
    shapes.set(id, { ...shape, layouts: new Map(shape.layouts).set(set, layout) });
  }
  return { ...asset, shapes };
}

/** The asset with some shapes changed. */
export function mapShapes(asset: Asset, change: (shape: PlacedShape) => ShapeBody & Pick<Shape, "layouts">): Asset {
  const shapes = new Map<ShapeId, Shape>();
  for (const shape of shapesOf(asset)) {
    const next = change(shape);
    shapes.set(shape.id, next === shape ? asset.shapes.get(shape.id)! : bareShape({ ...next, id: shape.id }));
  }
  return { ...asset, shapes };
}

/** A shape without what was added to look at it. */
export const bareShape = (s: Shape): Shape => ({
  id: s.id,
  mesh: s.mesh,
  layouts: s.layouts,
  ...(s.merged ? { merged: s.merged } : {}),
  ...(s.split ? { split: s.split } : {}),
});

/** The asset with other parts, and shapes that they need beside those that are there. Shapes that no part draws go. */
export function withParts(asset: Asset, parts: readonly Part[], shapes: Iterable<Shape> = []): Asset {
  const known = new Map(asset.shapes);
  for (const shape of shapes) known.set(shape.id, bareShape(shape));
  const used = new Map<ShapeId, Shape>();
  for (const { shape: id, name } of parts) {
    const shape = known.get(id);
    if (!shape) throw new Error(`The shape of ${name} is missing.`);
    used.set(id, shape);
  }
  const same = used.size === asset.shapes.size && [...used].every(([id, s]) => asset.shapes.get(id) === s);
  return { ...asset, parts, shapes: same ? asset.shapes : used };
}

/** The asset with some parts changed. */
export const mapParts = (asset: Asset, change: (part: Part) => Part): Asset =>
  withParts(asset, asset.parts.map(change));
