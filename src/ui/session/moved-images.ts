import type { Asset, UvSetId } from "@/core/layout/asset";
import { laidImages } from "@/core/layout/asset";
import type { AnyOperation } from "@/core/operations/operation";
import { movesShells, operationById } from "@/core/operations/registry";
import type { BenchState } from "./store";

/** Whether images are painted for a set of the asset. */
export const isPainted = (asset: Asset, set: UvSetId): boolean =>
  asset.materials.some((m) => laidImages(m).some((laid) => laid.set === set));

/** Whether an edit would move shells under images that are painted for the layout as it is. */
export const movesUnderImages = (op: AnyOperation, { asset, set }: Pick<BenchState, "asset" | "set">): boolean =>
  asset !== null && movesShells(op) && isPainted(asset, set);

/** The options of an edit, with the images to be moved along where that is wished for and there are some. */
export const withImages = (state: BenchState, operation: string, options: unknown): unknown =>
  state.movesImages && movesUnderImages(operationById(operation), state)
    ? { ...(options as object), images: true }
    : options;
