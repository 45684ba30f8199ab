import { z } from "zod";
import type { Asset, Part } from "../layout/asset";
import { withParts } from "../layout/asset";
import { type AssetDelta, headOf } from "../layout/delta";
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
  RecordJson,
  readBody,
  reader,
  readHead,
  readLayout,
  readRecord,
  type Trust,
} from "./asset-json";
import { decodeBundle, encodeBundle } from "./bundle";

const AssetJson = z.object({
  id: z.string(),
  name: z.string().min(1).max(300),
  head: HeadJson,
  parts: z
    .array(z.object({ record: RecordJson, body: BodyJson.optional(), uvSets: z.array(LayoutJson.nullable()).max(32) }))
    .min(1),
  files: z.record(z.string(), z.number().int().min(0)),
});

/** An asset as one block of bytes; instances carry no mesh of their own. */
export function encodeAsset(asset: Asset): Uint8Array<ArrayBuffer> {
  const arrays = new Arrays();
  const json = {
    id: asset.id,
    name: asset.name,
    head: headOf(asset),
    parts: asset.parts.map((part) => ({
      record: readRecord(part as never),
      ...(part.instanceOf === undefined ? { body: bodyJson(part, arrays) } : {}),
      uvSets:
        part.instanceOf === undefined
          ? asset.sets.map((_, i) => (part.uvSets[i] ? layoutJson(part.uvSets[i], arrays) : null))
          : [],
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
  const { id, name, head, parts: partsJson, files } = parsed.data;
  const parts: Part[] = [];
  const owners = new Map<string, Part>();
  for (const { record, body, uvSets } of partsJson) {
    const base = readRecord(record);
    if (base.instanceOf !== undefined) {
      const owner = owners.get(base.instanceOf);
      if (!owner) throw new UserError(`The data of part ${base.name} does not fit together: it repeats no part.`);
      parts.push({ ...base, mesh: owner.mesh, uvSets: owner.uvSets });
      continue;
    }
    if (!body) throw new UserError(`The data of part ${base.name} does not fit together: it has no mesh.`);
    const part: Part = {
      ...base,
      ...readBody(body, arrays, base.name),
      uvSets: head.sets.map((_, i) => (uvSets[i] ? readLayout(uvSets[i], arrays, base.name) : undefined)),
    };
    owners.set(part.id, part);
    parts.push(part);
  }
  const { order: _, ...rest } = readHead(head);
  const read = reader(arrays, "the files");
  const kept = Object.fromEntries(Object.entries(files).map(([key, at]) => [key, read(at, Uint8Array)]));
  const asset = withParts({ id, name, ...rest, parts, ...(Object.keys(files).length ? { files: kept } : {}) }, parts);
  return trust === "check" ? checkAsset(asset) : asset;
}

const DeltaJson = z.object({
  head: HeadJson.optional(),
  parts: z.array(z.object({ record: RecordJson, body: BodyJson.optional() })),
  layouts: z.array(z.object({ part: z.string(), set: z.number().int().min(0).max(31), layout: LayoutJson.nullable() })),
  files: z.record(z.string(), z.number().int().min(0)),
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
    parts: delta.parts.map(({ record, body }) => ({ record, ...(body ? { body: bodyJson(body, arrays) } : {}) })),
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
  const { head, parts, layouts, files } = parsed.data;
  const read = reader(arrays, "the files");
  return {
    delta: {
      ...(head ? { head: readHead(head) } : {}),
      parts: parts.map(({ record, body }) => ({
        record: readRecord(record),
        ...(body ? { body: readBody(body, arrays, record.name) } : {}),
      })),
      layouts: layouts.map((l) => ({ ...l, layout: l.layout ? readLayout(l.layout, arrays, l.part) : null })),
    },
    beside: rest.data,
    files: Object.fromEntries(Object.entries(files).map(([key, at]) => [key, read(at, Uint8Array)])),
  };
}
