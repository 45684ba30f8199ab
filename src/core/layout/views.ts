import { z } from "zod";

/** Views that can be marked. */
export const MOST_VIEWS = 12;

const Way = z.number().min(-1).max(1);
/** Ways from the asset to who looks at it, each of length one, world space. */
export const Views = z.array(z.tuple([Way, Way, Way])).max(MOST_VIEWS);
export type Views = ReadonlyArray<readonly [x: number, y: number, z: number]>;
