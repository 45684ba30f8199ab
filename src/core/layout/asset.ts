import type { PolyMesh } from "../mesh/poly-mesh";
import { determinant, type Mat4 } from "../mesh/transform";
import type { UvSet } from "./uv-set";

export const UNITS = ["m", "cm", "mm", "in"] as const;
export type Unit = (typeof UNITS)[number];
export type PartId = string;

export interface Material {
  readonly name: string;
  /** Base colour, linear RGB in 0..1, to draw with and to hand on where the source has no own record of it. */
  readonly color: readonly [number, number, number];
  /** The image laid on with the base colour: its key among the asset's images, and the UV set it is laid by. */
  readonly texture?: { readonly image: string; readonly set: string };
}

/** An image that came with the file. Its bytes are kept under its key. */
export interface Image {
  readonly key: string;
  readonly name: string;
  readonly type: string;
}

export const PURPOSES = ["unique", "tiling", "light", "packed", "scratch"] as const;
export type Purpose = (typeof PURPOSES)[number];

/** One UV set of the asset; parts hold their layouts in the same order. */
export interface SetInfo {
  /** Stays the same when sets are renamed or reordered. */
  readonly id: string;
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

export const STATUSES = ["untouched", "in work", "done"] as const;
export type Status = (typeof STATUSES)[number];

/** What is known of a part but its shape and layout. */
export interface PartRecord {
  readonly id: PartId;
  readonly name: string;
  /** Groups it lies in, outermost first. */
  readonly path: readonly string[];
  /** To world. */
  readonly transform: Mat4;
  /** Shares mesh and layout with another part, which is the one edited; measured at the largest instance. */
  readonly instanceOf?: PartId;
  /** Place of the object in the source file, for writing back; absent for parts added later. */
  readonly sourceIndex?: number;
  /** Number of a colour given by hand. */
  readonly label?: number;
  readonly status?: Status;
  /** Why it may not be changed. */
  readonly locked?: string;
  /** The point it turns about, in its own space; its origin when absent. */
  readonly pivot?: readonly [number, number, number];
}

/** Faces of another part, of which this one is a piece split off for the work. */
export interface SplitFrom {
  readonly whole: Part;
  /** Its faces, in the order of the piece's own. */
  readonly faces: Uint32Array;
}

/** The shape of a part, and what it was put together from or taken off. */
export interface PartBody {
  readonly mesh: PolyMesh;
  /** The parts merged into this one, as they were; its faces are theirs, one part after another. */
  readonly merged?: readonly Part[];
  readonly split?: SplitFrom;
}

/** One object as the artist sees it. */
export interface Part extends PartRecord, PartBody {
  /** By index of the asset's sets; absent where nothing has been done in that set. */
  readonly uvSets: readonly (UvSet | undefined)[];
}

/** An immutable value; an edit makes a new one that shares what did not change. */
export interface Asset {
  readonly id: string;
  readonly name: string;
  readonly unit: Unit;
  readonly up: "y" | "z";
  readonly sets: readonly SetInfo[];
  readonly parts: readonly Part[];
  readonly materials: readonly Material[];
  readonly images: readonly Image[];
  readonly source: SourceFile;
  /** Bytes of source and images by key, as far as they have been fetched. */
  readonly files?: Readonly<Record<string, Uint8Array>>;
}

/** UV sets under numbered names, written as the texture coordinate set of their place. */
export const numberedSets = (count: number): SetInfo[] =>
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

/** The bytes the asset came from, when they have been fetched. */
export const sourceBytes = (asset: Asset): Uint8Array | undefined =>
  asset.source.key === undefined ? undefined : asset.files?.[asset.source.key];

/** The parts that own a layout: instances are left to the part they repeat. */
export const layoutParts = (asset: Asset): readonly Part[] => asset.parts.filter((p) => p.instanceOf === undefined);

const byIds = new WeakMap<readonly Part[], Map<PartId, Part>>();

export function partById(asset: Asset, id: PartId): Part {
  let map = byIds.get(asset.parts);
  if (!map) {
    map = new Map(asset.parts.map((p) => [p.id, p]));
    byIds.set(asset.parts, map);
  }
  const part = map.get(id);
  if (!part) throw new Error(`There is no part ${id} in ${asset.name}.`);
  return part;
}

/** The transform a part is measured with: that of the largest of its instances. */
export function measuringTransform(asset: Asset, part: Part): Mat4 {
  return measuringTransforms(asset).get(part.id) ?? part.transform;
}

const largest = new WeakMap<readonly Part[], Map<PartId, Mat4>>();

function measuringTransforms(asset: Asset): Map<PartId, Mat4> {
  let map = largest.get(asset.parts);
  if (!map) {
    map = new Map();
    for (const part of asset.parts) {
      const owner = part.instanceOf ?? part.id;
      const best = map.get(owner);
      if (!best || Math.abs(determinant(part.transform)) > Math.abs(determinant(best))) map.set(owner, part.transform);
    }
    largest.set(asset.parts, map);
  }
  return map;
}

/** New layouts for some parts, by part and index of the UV set; instances follow the part they repeat. */
export interface LayoutChange {
  readonly part: PartId;
  readonly set: number;
  readonly layout: UvSet;
}

/** The asset with some layouts replaced. */
export function withLayouts(asset: Asset, changes: readonly LayoutChange[]): Asset {
  if (!changes.length) return asset;
  const byPart = new Map<PartId, LayoutChange[]>();
  for (const change of changes) byPart.set(change.part, [...(byPart.get(change.part) ?? []), change]);
  return withParts(
    asset,
    asset.parts.map((part) => {
      const own = part.instanceOf === undefined && byPart.get(part.id);
      if (!own) return part;
      const uvSets = asset.sets.map((_, i) => part.uvSets[i]);
      for (const change of own) uvSets[change.set] = change.layout;
      return { ...part, uvSets };
    }),
  );
}

/** The asset with other parts; instances take mesh and layouts from the part they repeat. */
export function withParts(asset: Asset, parts: readonly Part[]): Asset {
  const owners = new Map(parts.map((p) => [p.id, p]));
  const followed = parts.map((p) => {
    const owner = p.instanceOf === undefined ? undefined : owners.get(p.instanceOf);
    if (!owner || (owner.mesh === p.mesh && owner.uvSets === p.uvSets)) return p;
    return { ...p, mesh: owner.mesh, uvSets: owner.uvSets };
  });
  return { ...asset, parts: followed };
}

/** The asset with some parts changed. */
export const mapParts = (asset: Asset, change: (part: Part) => Part): Asset =>
  withParts(asset, asset.parts.map(change));

/**
 * An id that nothing in the asset's history bears: chosen by chance, since what was deleted may come back by undo.
 *
 * @param kind a letter that says what it names
 */
export function freshId(kind: "p" | "s"): string {
  const [a, b] = crypto.getRandomValues(new Uint32Array(2));
  return `${kind}-${a!.toString(36)}${b!.toString(36)}`;
}
