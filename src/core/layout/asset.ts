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
}

/** The file an asset came from. The bytes are fetched only when a file is written back into it. */
export interface SourceFile {
  readonly name: string;
  readonly format: "obj" | "glb" | "gltf" | "made";
  readonly bytes?: Uint8Array;
}

/** One object as the artist sees it. */
export interface Part {
  readonly id: PartId;
  readonly name: string;
  readonly path: readonly string[];
  readonly mesh: PolyMesh;
  /** To world. */
  readonly transform: Mat4;
  /** Shares mesh and layout with another part, which is the one edited; measured at the largest instance. */
  readonly instanceOf?: PartId;
  /** Node index in a glTF source, for writing back. */
  readonly sourceIndex?: number;
  readonly uvSets: readonly UvSet[];
}

/** An immutable value; an edit makes a new one that shares what did not change. */
export interface Asset {
  readonly id: string;
  readonly name: string;
  readonly unit: Unit;
  readonly up: "y" | "z";
  readonly parts: readonly Part[];
  readonly materials: readonly Material[];
  readonly source: SourceFile;
}

/** The parts that own a layout: instances are left to the part they repeat. */
export const layoutParts = (asset: Asset): readonly Part[] => asset.parts.filter((p) => p.instanceOf === undefined);

export function partById(asset: Asset, id: PartId): Part {
  const part = asset.parts.find((p) => p.id === id);
  if (!part) throw new Error(`There is no part ${id} in ${asset.name}.`);
  return part;
}

/** The transform a part is measured with: that of the largest of its instances. */
export function measuringTransform(asset: Asset, part: Part): Mat4 {
  let best = part.transform;
  for (const other of asset.parts)
    if (other.instanceOf === part.id && Math.abs(determinant(other.transform)) > Math.abs(determinant(best)))
      best = other.transform;
  return best;
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
  const parts = asset.parts.map((part) => {
    const own = byPart.get(part.instanceOf ?? part.id);
    if (!own) return part;
    const uvSets = [...part.uvSets];
    for (const change of own) uvSets[change.set] = change.layout;
    return { ...part, uvSets };
  });
  return { ...asset, parts };
}
