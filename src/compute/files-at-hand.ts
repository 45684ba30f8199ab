import type { Context } from "../core/operations/operation";

/** Files kept that edits made. */
const MOST_MADE = 24;

/** Bytes of an asset's files by key: what an edit made here may not be saved yet, the rest is fetched. */
export class FilesAtHand {
  private readonly made = new Map<string, Uint8Array>();

  constructor(private readonly fetched: Context["file"]) {}

  get: NonNullable<Context["file"]> = async (asset, key) => this.made.get(key) ?? (await this.fetched?.(asset, key));

  keep(files: Readonly<Record<string, Uint8Array>> = {}): void {
    for (const [key, bytes] of Object.entries(files)) this.made.set(key, bytes);
    for (const key of this.made.keys()) if (this.made.size > MOST_MADE) this.made.delete(key);
  }
}
