import { z } from "zod";
import { BodyJson, HeadJson, PartJson } from "../core/formats/asset-json";
import { plainText, wholeNumber } from "../core/formats/schema-words";
import { newBody, newRecord, type OldBody, OldRecord } from "./migrate-shapes";

// The rows of an asset as a backup holds them. All that the database or a reader would stumble over is refused here.

const Hash = z.string().regex(/^[0-9a-f]{64}$/);
const Time = z.string().refine((s) => !Number.isNaN(Date.parse(s)));
const Key = plainText(300, 1);

const Revision = z
  .object({
    number: wholeNumber,
    parent: wholeNumber.nullable(),
    operation: plainText(100),
    options: z.unknown(),
    scope: z.unknown().optional(),
    words: plainText(500),
    figures: z.unknown(),
    created_at: Time,
    version: wholeNumber.nullish(),
  })
  // The parent of every step is an older one: no line of ancestors can run in a circle.
  .refine((r) => r.parent === null || r.parent < r.number);

const common = {
  asset: z.object({
    id: plainText(100, 1),
    name: plainText(300, 1),
    version: wholeNumber,
    head: wholeNumber,
    figures: z.unknown(),
    parts: wholeNumber,
    exports: wholeNumber,
    created_at: Time,
    updated_at: Time,
  }),
  revisions: z.array(Revision).min(1),
  asset_files: z.array(z.object({ key: plainText(100), array_hash: Hash })),
  marks: z.array(
    z.object({
      number: wholeNumber,
      name: plainText(200, 1),
      note: plainText(2000),
      automatic: z.boolean(),
      created_at: Time,
    }),
  ),
  revision_heads: z.array(z.object({ number: wholeNumber, record: HeadJson })),
};
const refs = {
  cut: Hash.nullable(),
  mapped: Hash.nullable(),
  uv: Hash.nullable(),
  pinned: Hash.nullable(),
};

export const AssetRows = z.object({
  ...common,
  revision_parts: z.array(z.object({ number: wholeNumber, part: Key, record: PartJson })),
  revision_shapes: z.array(z.object({ number: wholeNumber, shape: Key, body: BodyJson, arrays: z.array(Hash) })),
  revision_layouts: z.array(z.object({ number: wholeNumber, shape: Key, set_id: Key, ...refs })),
});
export type AssetRows = z.infer<typeof AssetRows>;

/** As they were before shapes stood apart. */
const OldRows = z.object({
  ...common,
  revision_parts: z.array(
    z.object({ number: wholeNumber, part: Key, record: OldRecord, body: z.unknown(), arrays: z.array(Hash) }),
  ),
  revision_layouts: z.array(z.object({ number: wholeNumber, part: Key, set_id: Key, ...refs })),
});

export const OldBackup = z.object({
  tavlinBackup: z.literal(1),
  assets: z.array(z.unknown()).min(1),
  arrays: z.array(z.object({ hash: Hash, size: z.number(), chunks: z.array(Hash) })),
});

export const ArrayLine = z.object({ hash: Hash, size: z.number().int().min(0), chunks: z.array(Hash).min(1) });
export type ArrayLine = z.infer<typeof ArrayLine>;

/** The rows of a backup of before, as they are kept now. */
export function readOldRows(raw: unknown): AssetRows {
  const { revision_parts, revision_layouts, ...rest } = OldRows.parse(raw);
  const parents = new Map(rest.revisions.map((r) => [r.number, r.parent]));
  const sets = new Map(rest.revision_heads.map((h) => [h.number, h.record.sets.map((s) => s.id)]));
  const setsAt = (number: number): string[] => {
    for (let at: number | null | undefined = number; at !== null && at !== undefined; at = parents.get(at)) {
      const found = sets.get(at);
      if (found) return found;
    }
    return [];
  };
  return AssetRows.parse({
    ...rest,
    revision_parts: revision_parts.map(({ number, part, record }) => ({ number, part, record: newRecord(record) })),
    revision_shapes: revision_parts.flatMap(({ number, part, body, arrays }) =>
      body ? [{ number, shape: part, body: newBody(body as OldBody, setsAt(number)), arrays }] : [],
    ),
    revision_layouts: revision_layouts.map(({ part, ...l }) => ({ ...l, shape: part })),
  });
}

/** Every array that an asset's rows refer to. */
export const hashesOfRows = (rows: AssetRows): string[] => [
  ...new Set([
    ...rows.revision_shapes.flatMap((s) => s.arrays),
    ...rows.revision_layouts.flatMap((l) => [l.cut, l.mapped, l.uv, l.pinned].filter((h) => h !== null)),
    ...rows.asset_files.map((f) => f.array_hash),
  ]),
];
