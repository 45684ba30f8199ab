import type { PolyMesh } from "../mesh/poly-mesh";
import { IDENTITY, type Mat4 } from "../mesh/transform";
import { type Asset, numberedSets, type Part, type PartId, type Shape, type UvSet } from "./asset";
import type { Layout } from "./layout";
import { RULES } from "./rules";
import { DEFAULT_TILES } from "./tiles";

/** A part as a reader finds it: with a mesh of its own, or the same as another part. */
export interface NewPart {
  readonly id: PartId;
  readonly name: string;
  readonly path?: readonly string[];
  readonly transform?: Mat4;
  readonly sourceIndex?: number;
  readonly mesh?: PolyMesh;
  /** By place of the UV set. */
  readonly layouts?: ReadonlyArray<Layout | undefined>;
  /** The part whose shape it draws as well; it must stand before this one. */
  readonly same?: PartId;
}

type Head = Pick<Asset, "name" | "source"> &
  Partial<Pick<Asset, "id" | "unit" | "up" | "tiles" | "rules" | "materials" | "images">> & {
    readonly sets?: readonly UvSet[] | undefined;
    readonly files?: Readonly<Record<string, Uint8Array>> | undefined;
  };

/** An asset out of parts as they were read. Without sets it has as many as the parts have layouts, one at least. */
export function newAsset(head: Head, list: readonly NewPart[]): Asset {
  const most = list.reduce((n, p) => Math.max(n, p.layouts?.length ?? 0), 1);
  const sets = head.sets ?? numberedSets(most);
  const shapes = new Map<string, Shape>();
  const shapeOfPart = new Map<PartId, string>();
  const parts = list.map(({ mesh, layouts = [], same, ...rest }): Part => {
    const shape = same === undefined ? rest.id : shapeOfPart.get(same)!;
    shapeOfPart.set(rest.id, shape);
    if (mesh) {
      const withLayout = sets.flatMap((s, i) => (layouts[i] ? [[s.id, layouts[i]] as const] : []));
      shapes.set(shape, { id: shape, mesh, layouts: new Map(withLayout) });
    }
    const { path = [], transform = IDENTITY, sourceIndex, id, name } = rest;
    return { id, shape, name, path, transform, ...(sourceIndex !== undefined ? { sourceIndex } : {}) };
  });
  const { id = "asset", name, unit = "m", up = "y", tiles = DEFAULT_TILES, rules = RULES } = head;
  const { materials = [], images = [], source, files } = head;
  return {
    id,
    name,
    unit,
    up,
    sets,
    tiles,
    rules,
    selections: [],
    seamLocks: [],
    views: [],
    plots: [],
    shellMarks: [],
    parts,
    shapes,
    materials,
    images,
    source,
    ...(files ? { files } : {}),
  };
}
