import { z } from "zod";
import { type Asset, type Shape, type ShapeId, withParts } from "../layout/asset";
import { type AssetDelta, headOf, partRecord } from "../layout/delta";
import { UserError } from "../layout/user-error";
import {
  Arrays,
  BodyJson,
  badJson,
  bodyJson,
  checkAsset,
  HeadJson,
  LayoutJson,
  layoutJson,
  layoutsJson,
  PartJson,
  readBody,
  reader,
  readHead,
  readLayout,
  readLayouts,
  readPart,
  type Trust,
} from "./asset-json";
import { decodeBundle, encodeBundle } from "./bundle";
import { plainText } from "./schema-words";

/** Parts an asset may have. */
const MOST_PARTS = 100_000;

const Id = plainText(200, 1);
const Files = z.record(z.string(), z.number().int().min(0));
const AssetJson = z.object({
  id: plainText(300),
  name: plainText(300, 1),
  head: HeadJson,
  parts: z.array(PartJson).min(1).max(MOST_PARTS),
  shapes: z
    .array(z.object({ id: Id, body: BodyJson, layouts: z.record(z.string(), LayoutJson) }))
    .min(1)
    .max(MOST_PARTS),
  files: Files,
});

/** An asset as one block of bytes. */
export function encodeAsset(asset: Asset): Uint8Array<ArrayBuffer> {
  const arrays = new Arrays();
  const json = {
    id: asset.id,
    name: asset.name,
    head: headOf(asset),
    parts: asset.parts.map(partRecord),
    shapes: [...asset.shapes.values()].map((shape) => ({
      id: shape.id,
      body: bodyJson(shape, arrays),
      layouts: layoutsJson(shape, arrays),
    })),
    files: Object.fromEntries(Object.entries(asset.files ?? {}).map(([key, bytes]) => [key, arrays.add(bytes)])),
  };
  return encodeBundle(json, arrays.list);
}

/** Reads an asset, and checks it unless it comes from the own server. @throws UserError when it does not fit together */
export function decodeAsset(bytes: Uint8Array, trust: Trust = "check"): Asset {
  const { json: raw, arrays } = decodeBundle(bytes);
  const parsed = AssetJson.safeParse(raw);
  if (!parsed.success) throw badJson("The asset", parsed.error);
  const { id, name, head, files } = parsed.data;
  const shapes = new Map<ShapeId, Shape>();
  for (const s of parsed.data.shapes)
    shapes.set(s.id, { ...readBody(s.body, arrays, s.id), id: s.id, layouts: readLayouts(s.layouts, arrays, s.id) });
  const byId = new Map(parsed.data.parts.map((p) => [p.id, readPart(p)]));
  const { order, ...rest } = readHead(head);
  const parts = order.flatMap((part) => byId.get(part) ?? []);
  const read = reader(arrays, "the files");
  const kept = Object.fromEntries(Object.entries(files).map(([key, at]) => [key, read(at, Uint8Array)]));
  const asset: Asset = { id, name, ...rest, parts, shapes, ...(Object.keys(files).length ? { files: kept } : {}) };
  if (trust === "check") checkWhole(asset, parsed.data.parts.length);
  return withParts(asset, parts);
}

function checkWhole(asset: Asset, parts: number): void {
  checkAsset(asset);
  if (asset.parts.length !== parts) throw new UserError("The asset cannot be read: its order does not name its parts.");
}

const DeltaJson = z.object({
  head: HeadJson.optional(),
  parts: z.array(PartJson).max(MOST_PARTS),
  shapes: z.array(z.object({ id: Id, body: BodyJson })).max(MOST_PARTS),
  layouts: z.array(z.object({ shape: Id, set: Id, layout: LayoutJson.nullable() })),
  files: Files,
});

export type Files = Readonly<Record<string, Uint8Array>>;

/** A change with some JSON and files beside it, as one block of bytes. */
export function encodeDelta(
  delta: AssetDelta,
  beside: Record<string, unknown>,
  files: Files = {},
): Uint8Array<ArrayBuffer> {
  const arrays = new Arrays();
  const json = {
    ...beside,
    ...(delta.head ? { head: delta.head } : {}),
    parts: delta.parts,
    shapes: delta.shapes.map(({ id, body }) => ({ id, body: bodyJson(body, arrays) })),
    layouts: delta.layouts.map((l) => ({ ...l, layout: l.layout ? layoutJson(l.layout, arrays) : null })),
    files: Object.fromEntries(Object.entries(files).map(([key, bytes]) => [key, arrays.add(bytes)])),
  };
  return encodeBundle(json, arrays.list);
}

/** Reads a change and what stands beside it; whether it fits an asset is for `withDelta` and the checks to say. */
export function decodeDelta<T>(
  bytes: Uint8Array,
  beside: z.ZodType<T>,
): { delta: AssetDelta; beside: T; files: Files } {
  const { json, arrays } = decodeBundle(bytes);
  const parsed = DeltaJson.safeParse(json);
  const rest = beside.safeParse(json);
  if (!parsed.success) throw badJson("The edit", parsed.error);
  if (!rest.success) throw badJson("The edit", rest.error);
  const { head, parts, shapes, layouts, files } = parsed.data;
  const read = reader(arrays, "the files");
  return {
    delta: {
      ...(head ? { head: readHead(head) } : {}),
      parts: parts.map(readPart),
      shapes: shapes.map(({ id, body }) => ({ id, body: readBody(body, arrays, id) })),
      layouts: layouts.map((l) => ({ ...l, layout: l.layout ? readLayout(l.layout, arrays, l.shape) : null })),
    },
    beside: rest.data,
    files: Object.fromEntries(Object.entries(files).map(([key, at]) => [key, read(at, Uint8Array)])),
  };
}
