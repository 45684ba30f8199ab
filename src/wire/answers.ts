import { z } from "zod";
import { Summary } from "@/core/check/summary";

// What the server answers in JSON. The server's functions return these types, and the page reads them by these schemas.

/** Where an asset's history stands. */
export const HistoryState = z.object({
  version: z.number(),
  head: z.number(),
  /** Words of the step that undo takes back, and of the one redo brings again. */
  undo: z.string().nullable(),
  redo: z.string().nullable(),
});
export type HistoryState = Readonly<z.infer<typeof HistoryState>>;

/** An asset as Home lists it. */
export const AssetRow = z.object({
  id: z.string(),
  name: z.string(),
  version: z.number(),
  /** As they were last measured; null or of an older kind when there are none. */
  figures: z.unknown(),
  updatedAt: z.string(),
  parts: z.number(),
});
export type AssetRow = Readonly<z.infer<typeof AssetRow>>;
export const AssetList = z.object({ assets: z.array(AssetRow) });

/** The figures of a row or a step, when it has any that can be read. */
export const figuresOf = (raw: unknown): Summary | null => Summary.safeParse(raw).data ?? null;

/** One step of the history. */
export const Revision = z.object({
  number: z.number(),
  parent: z.number().nullable(),
  operation: z.string(),
  words: z.string(),
  figures: z.unknown(),
  at: z.string(),
});
export type Revision = Readonly<z.infer<typeof Revision>>;

/** A named version that can be gone back to. */
export const Mark = z.object({
  id: z.string(),
  number: z.number(),
  name: z.string(),
  note: z.string(),
  automatic: z.boolean(),
  figures: z.unknown(),
  at: z.string(),
});
export type Mark = Readonly<z.infer<typeof Mark>>;

export const HistoryList = z.object({ steps: z.array(Revision), marks: z.array(Mark) });
export const Created = z.object({ id: z.string() });
export const Restored = z.object({ ids: z.array(z.string()) });
export const ExportNumber = z.object({ number: z.number() });
export const Refusal = z.object({ error: z.string() });

/** A picture of the user's own, to be laid over faces. */
export const OwnPicture = z.object({ id: z.string(), name: z.string() });
export type OwnPicture = Readonly<z.infer<typeof OwnPicture>>;
export const PictureList = z.object({ pictures: z.array(OwnPicture) });
