import { z } from "zod";

/** Marks that an asset may hold. */
export const MOST_MARKS = 100_000;

/** How many times as dense as what is common a shell may be said to be. */
export const MOST_RATIO = 1000;

const Id = z.string().min(1).max(200);
const Far = z.number().min(-1e6).max(1e6);

/** What was said of a shell by hand, and holds whatever becomes of its layout. */
export const ShellMark = z.strictObject({
  set: Id,
  shape: Id,
  face: z.number().int().min(0),
  /** How dense it is to be, by what is common; 1 where it is not said. */
  ratio: z
    .number()
    .min(1 / MOST_RATIO)
    .max(MOST_RATIO)
    .optional(),
  /** It bears lettering: mirrored it could not be read. */
  lettering: z.literal(true).optional(),
  /** It is parked beside the page: by how much it was moved to get there, in tiles. */
  parked: z.tuple([Far, Far]).optional(),
});
export type ShellMark = Readonly<z.infer<typeof ShellMark>>;
/** What a mark says. */
export type Said = Pick<ShellMark, "ratio" | "lettering" | "parked">;
