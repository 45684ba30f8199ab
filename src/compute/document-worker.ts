import { expose } from "comlink";
import { encodeAsset } from "../core/formats/asset-bundle";
import { type FileIn, readAssets } from "../core/formats/read-asset";
import type { Asset, Unit, UvSetId } from "../core/layout/asset";
import type { AssetDelta } from "../core/layout/delta";
import { UserError } from "../core/layout/user-error";
import type { ManifestDelta } from "../wire/manifest";
import { browserPool } from "./browser-pool";
import { describeRead } from "./describe-read";
import { installErrors } from "./error-transfer";
import { ArrayStore, fetchAsset, fetchDelta, noteArrays } from "./fetch-state";
import { DocumentHost } from "./host";

// The worker of a page: it holds the document, reads files, and talks to the server where arrays are concerned.

/** Decoders are fetched from the own server when a file needs them. */
async function fetchWasm(name: string): Promise<Uint8Array> {
  const response = await fetch(`/api/decoders/${name}`);
  if (!response.ok) throw new Error(`The decoder ${name} cannot be fetched.`);
  return new Uint8Array(await response.arrayBuffer());
}

/** Bytes of a file of an asset: its source, or an image. */
async function fetchFile(asset: string, key: string): Promise<Uint8Array> {
  const response = await fetch(`/api/assets/${asset}/files?key=${encodeURIComponent(key)}`);
  if (!response.ok) throw new UserError("An image of the asset cannot be fetched just now; try again.");
  return new Uint8Array(await response.arrayBuffer());
}

export class PageDocument extends DocumentHost {
  private readonly store = new ArrayStore();
  private imported: readonly Asset[] = [];

  constructor() {
    super(browserPool(), fetchWasm, fetchFile);
  }

  /** Opens an asset as it stands on the server, or as it stood at a step. */
  async open(id: string, at?: number, revision = 0) {
    const { asset, history } = await fetchAsset(this.store, id, at);
    return { ...this.load(asset, revision), history };
  }

  /** Takes a step that the server sent. */
  async takeStep(revision: number, step: ManifestDelta, set: UvSetId) {
    return this.apply(revision, await fetchDelta(this.store, step), set);
  }

  /** The server has an edit: its arrays need not be fetched again. */
  saved(delta: AssetDelta, manifest: ManifestDelta): void {
    noteArrays(this.store, delta, manifest);
  }

  /** Reads files and keeps what they hold until it is wanted. */
  async read(files: readonly FileIn[], progress: (share: number) => void) {
    let last = 0;
    const report = (share: number) => {
      const now = performance.now();
      if (now - last < 40) return;
      last = now;
      progress(share);
    };
    this.imported = await readAssets(files, { wasm: fetchWasm, progress: report });
    return this.imported.map(describeRead);
  }

  /** The bytes of one of the assets that were read, as the server takes them. */
  encodeRead(index: number, unit: Unit): Uint8Array<ArrayBuffer> {
    return encodeAsset({ ...this.imported[index]!, unit });
  }
}

installErrors();
expose(new PageDocument());
