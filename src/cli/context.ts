import { nodePool } from "../compute/node-pool";
import type { Pool } from "../compute/pool";
import { type Asset, facesOf } from "../core/layout/asset";
import type { Context } from "../core/operations/operation";

/** Faces from which on threads do more than they cost: each takes a second or two to start. */
const MANY = 20_000;

/** Progress as one line that rewrites itself, on a terminal only. */
const progress = (share: number): void => {
  if (process.stderr.isTTY) process.stderr.write(`\r${Math.round(100 * share)} % `);
};

/** What work on an asset is given: threads where it is large, or where searches are to run side by side. */
export function contextFor(asset: Asset, searches = false): { context: Context; pool: Pool | null } {
  const pool = facesOf(asset) < MANY && !searches ? null : nodePool();
  return { context: { progress, ...(pool ? { pool: pool.runner(undefined) } : {}) }, pool };
}
