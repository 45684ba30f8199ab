import { z } from "zod";
import type { AnyOperation } from "./operation";

/** Stages whose edits move shells that are laid out, but for those that say otherwise. */
const STAGES: ReadonlySet<string> = new Set(["unfold", "level", "place"]);

/** Whether an operation moves shells under the images that are painted for them. */
export const movesShells = ({ kind, stage, acts, moves }: AnyOperation): boolean =>
  kind === "edit" && (moves ?? (STAGES.has(stage) && acts !== "parts"));

const images = z.boolean().default(false).meta({
  title: "Move the images too",
  description: "Images that are painted for the layout are drawn anew, so that the model looks as before",
  more: true,
});

/** The operation with the option to move images along, where it moves shells. */
export function withImagesOption(op: AnyOperation): AnyOperation {
  if (!movesShells(op)) return op;
  return { ...op, options: (op.options as unknown as z.ZodObject).extend({ images }) } as AnyOperation;
}

/** Whether images are to be moved along, as options say. */
export const wantsImages = (options: unknown): boolean => (options as { readonly images?: boolean }).images === true;
