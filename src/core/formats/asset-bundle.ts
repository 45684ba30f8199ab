import { z } from "zod";
import { type Asset, type Shape, type ShapeId, withParts } from "../layout/asset";
import { headOf, partRecord } from "../layout/delta";
import { UserError } from "../layout/user-error";
import {
  Arrays,
  BodyJson,
  badJson,
  bodyJson,
  checkAsset,
  HeadJson,
  LayoutJson,
  layoutsJson,
  PartJson,
  readBody,
  reader,
  readHead,
  readLayouts,
  readPart,
  type Trust,
} from "./asset-json";
import { decodeBundle, encodeBundle } from "./bundle";
import { plainText } from "./schema-words";

/** Parts an asset may have. */
export const MOST_PARTS = 100_000;

export const Id = plainText(200, 1);
export const FilesJson = z.record(z.string(), z.number().int().min(0));
const AssetJson = z.object({
  id: plainText(300),
  name: plainText(300, 1),
  head: HeadJson,
  parts: z.array(PartJson).min(1).max(MOST_PARTS),
  shapes: z
    .array(z.object({ id: Id, body: BodyJson, layouts: z.record(z.string(), LayoutJson) }))
    .min(1)
    .max(MOST_PARTS),
  files: FilesJson,
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
