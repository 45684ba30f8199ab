import type { Measures } from "../check/measure";
import type { Asset, LayoutChange, ShapeId, UvSetId } from "../layout/asset";
import type { TaskRunner } from "./task-runner";

/** How work reports progress, and learns that it should stop. */
export interface Context {
  /**
   * Tells the share that is done, and where it is worth telling how much of what it is after was reached, from 0 to 1.
   * Called often: it looks for the signal to stop as well. @throws Stopped
   */
  progress(share: number, reached?: number): void;
  /** Looks for the signal to stop, where there is no share to tell. @throws Stopped */
  check?(): void;
  /** Shows what the work has come to, while it goes on: layouts with other points than those they had. */
  show?(layouts: readonly LayoutChange[]): void;
  /** Where parts of the work can be done side by side; without it they are done one after another, here. */
  readonly pool?: TaskRunner;
  /** Bytes of a file of an asset, by its key, where the asset does not hold them itself. */
  readonly file?: (asset: string, key: string) => Promise<Uint8Array | undefined>;
  /** Fetches a decoder that a compressed source, or an image, needs. */
  readonly wasm?: (name: string) => Promise<Uint8Array>;
  /** How openly faces are seen, where that is kept; found anew otherwise. */
  readonly seen?: (asset: Asset, context: Context) => Promise<ReadonlyMap<ShapeId, Float32Array>>;
  /** Figures of a set of the asset, from what is known already. */
  readonly figures?: (asset: Asset, set: UvSetId) => Measures;
  /** What comes of it is only drawn under the pointer, and worked out anew before it is done: near the end will do. */
  readonly isTrial?: boolean;
  /** Assets read from the files given to this operation. */
  readonly imported?: readonly Asset[];
}
