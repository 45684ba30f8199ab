import { z } from "zod";
import { Summary } from "@/core/check/summary";
import { plainText, wholeNumber } from "@/core/formats/schema-words";

// What the page asks of the server in JSON, with the limits the database has. Both sides import these.

const trimmed = (least: number, most: number) => z.string().trim().pipe(plainText(most, least));

/** Another name for an asset, or the figures measured for a version of it. */
export const AssetChange = z.union([
  z.object({ name: trimmed(1, 300) }),
  z.object({ version: wholeNumber, figures: Summary }),
]);

export const NewMark = z.object({
  name: trimmed(1, 200),
  note: plainText(2000).default(""),
  automatic: z.boolean().optional(),
  /** The step marked; the one on the table when left out. */
  number: wholeNumber.optional(),
});
export type NewMark = z.input<typeof NewMark>;
export const MarkChange = z.object({ id: plainText(100), name: trimmed(1, 200), note: plainText(2000).default("") });
export type MarkChange = z.input<typeof MarkChange>;

/** Undo, redo, or a jump to a step. */
export const HistoryStep = z.union([z.enum(["undo", "redo"]), z.object({ to: wholeNumber })]);
export type HistoryStep = z.infer<typeof HistoryStep>;
export const StepRequest = z.object({ base: wholeNumber, step: HistoryStep });

/** What stands beside the change of an edit. */
export const EditRequest = z.object({
  /** Version the edit was made on. */
  base: wholeNumber,
  /** Chosen by the page for this edit: a request that comes twice is one edit. */
  key: plainText(100, 1),
  operation: plainText(100),
  options: z.unknown(),
  /** What it acted on, as it can be said again. */
  scope: z.unknown(),
  words: plainText(500),
  figures: z.unknown(),
});
export type EditRequest = z.infer<typeof EditRequest>;
