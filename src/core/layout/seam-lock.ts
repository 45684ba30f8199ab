import { z } from "zod";
import type { ShapeId, UvSetId } from "./ids";

/** Locks that an asset may hold. */
export const MOST_LOCKS = 200;

/** Seams that no edit takes off, with the reason why. A reason stands once for a UV set. */
export const SeamLock = z.object({
  reason: z.string().max(200),
  set: z.string().min(1).max(200),
  /** Edges as runs of their numbers, by shape. */
  shapes: z.array(z.object({ shape: z.string().min(1).max(200), runs: z.string().max(20_000_000) })),
});
export interface SeamLock {
  readonly reason: string;
  readonly set: UvSetId;
  readonly shapes: ReadonlyArray<{ readonly shape: ShapeId; readonly runs: string }>;
}
