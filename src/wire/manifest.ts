import { z } from "zod";
import { BodyJson, HeadJson, PartJson, readBody, readHead, readPart } from "@/core/formats/asset-json";
import type { Numbers } from "@/core/formats/bundle";
import type { Asset, PartId, Shape, ShapeId, UvSetId } from "@/core/layout/asset";
import { withParts } from "@/core/layout/asset";
import type { AssetDelta } from "@/core/layout/delta";
import type { Layout } from "@/core/layout/layout";

// An asset, or what leads from one of its states to another, with every array named by the hash of its content. Whoever
// gets it fetches the arrays that it does not have.

const Hash = z.string().regex(/^[0-9a-f]{64}$/);

export const LayoutRefs = z.object({ cut: Hash, mapped: Hash, uv: Hash, pinned: Hash });
export type LayoutRefs = z.infer<typeof LayoutRefs>;

/** A shape's body as JSON whose arrays are numbers into the list of hashes beside it. */
export const ShapeRefs = z.object({ body: BodyJson, arrays: z.array(Hash) });
export type ShapeRefs = z.infer<typeof ShapeRefs>;

/** A whole state, by ids; layouts by "shape/set". */
export interface Manifest {
  head: z.infer<typeof HeadJson> | null;
  parts: Map<PartId, z.infer<typeof PartJson>>;
  shapes: Map<ShapeId, ShapeRefs>;
  layouts: Map<string, LayoutRefs>;
}

export const ManifestDelta = z.object({
  head: HeadJson.optional(),
  parts: z.array(PartJson),
  shapes: z.array(ShapeRefs.extend({ id: z.string() })),
  layouts: z.array(z.object({ shape: z.string(), set: z.string(), refs: LayoutRefs.nullable() })),
});
export type ManifestDelta = z.infer<typeof ManifestDelta>;

/** A whole state as what leads to it from nothing. */
export const manifestOf = (m: Manifest): ManifestDelta => ({
  head: m.head!,
  parts: [...m.parts.values()],
  shapes: [...m.shapes].map(([id, refs]) => ({ id, ...refs })),
  layouts: [...m.layouts].map(([key, refs]) => {
    const at = key.lastIndexOf("/");
    return { shape: key.slice(0, at), set: key.slice(at + 1), refs };
  }),
});

/** Every array that a delta refers to, each once. */
export const hashesOf = (delta: ManifestDelta): string[] => [
  ...new Set([
    ...delta.shapes.flatMap((s) => s.arrays),
    ...delta.layouts.flatMap(({ refs }) => (refs ? [refs.cut, refs.mapped, refs.uv, refs.pinned] : [])),
  ]),
];

/** Bytes by hash. */
export type Contents = (hash: string) => Uint8Array<ArrayBufferLike>;

/** The delta with its arrays in place. Meshes and layouts that are named twice are one value. */
export function deltaOf(delta: ManifestDelta, contents: Contents): AssetDelta {
  return {
    ...(delta.head ? { head: readHead(delta.head) } : {}),
    parts: delta.parts.map(readPart),
    shapes: delta.shapes.map(({ id, ...refs }) => ({ id, body: bodyOf(refs, contents, id) })),
    layouts: delta.layouts.map(({ shape, set, refs }) => ({ shape, set, layout: refs && layoutOf(refs, contents) })),
  };
}

/** An asset out of a whole state. */
export function assetOf(id: string, name: string, m: Manifest, contents: Contents): Asset {
  const { order, ...head } = readHead(m.head!);
  const shapes = new Map<ShapeId, Shape>();
  for (const [shape, refs] of m.shapes) {
    const layouts = new Map<UvSetId, Layout>();
    for (const { id: set } of head.sets) {
      const refs = m.layouts.get(`${shape}/${set}`);
      if (refs) layouts.set(set, layoutOf(refs, contents));
    }
    shapes.set(shape, { ...bodyOf(refs, contents, shape), id: shape, layouts });
  }
  const parts = order.map((part) => readPart(m.parts.get(part)!));
  return withParts({ id, name, ...head, parts, shapes }, parts);
}

export function bodyOf({ body, arrays }: ShapeRefs, contents: Contents, name: string) {
  const kinds = arrayKinds(body);
  const list = arrays.map((hash, i): Numbers => over(contents(hash), kinds[i] ?? Uint32Array));
  return readBody(body, list, name);
}

export const layoutOf = (refs: LayoutRefs, contents: Contents): Layout => ({
  cut: contents(refs.cut),
  mapped: contents(refs.mapped),
  uv: over(contents(refs.uv), Float64Array) as Float64Array,
  pinned: contents(refs.pinned),
});

type Kind = Uint8ArrayConstructor | Uint32ArrayConstructor | Float32ArrayConstructor | Float64ArrayConstructor;

const over = (bytes: Uint8Array, kind: Kind): Numbers =>
  new kind(bytes.buffer as ArrayBuffer, bytes.byteOffset, bytes.byteLength / kind.BYTES_PER_ELEMENT);

const KIND_OF: Record<string, Kind> = {
  positions: Float64Array,
  uv: Float64Array,
  cornerNormal: Float32Array,
  cut: Uint8Array,
  mapped: Uint8Array,
  pinned: Uint8Array,
};

/** The kind of each array of a body, from the keys that name it. */
function arrayKinds(body: unknown): Kind[] {
  const kinds: Kind[] = [];
  const visit = (value: unknown) => {
    if (Array.isArray(value)) value.forEach(visit);
    else if (value && typeof value === "object")
      for (const [key, inner] of Object.entries(value)) {
        if (key === "part") continue;
        if (typeof inner === "number") kinds[inner] = KIND_OF[key] ?? Uint32Array;
        else visit(inner);
      }
  };
  visit(body);
  return kinds;
}
