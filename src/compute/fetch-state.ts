import { z } from "zod";
import type { Asset } from "../core/layout/asset";
import type { AssetDelta } from "../core/layout/delta";
import { UserError } from "../core/layout/user-error";
import { HistoryState, Refusal } from "../wire/answers";
import { readArrays } from "../wire/array-stream";
import { assetOf, type Contents, deltaOf, hashesOf, type Manifest, ManifestDelta } from "../wire/manifest";
import { canShare } from "./stop-flag";

const State = z.object({ name: z.string(), history: HistoryState, state: ManifestDelta });

/** Bytes of arrays kept at hand so that undo, conflicts and comparisons fetch only what is new. */
const MOST_KEPT = 512 * 1024 * 1024;

/** Arrays by the hashes of their content, as far as they were fetched or sent here. */
export class ArrayStore {
  private readonly arrays = new Map<string, Uint8Array>();
  private bytes = 0;

  /** Keeps an array that the server has under this hash. */
  note(hash: string, array: ArrayBufferView): void {
    if (this.arrays.has(hash)) return;
    this.arrays.set(hash, new Uint8Array(array.buffer as ArrayBuffer, array.byteOffset, array.byteLength));
    this.bytes += array.byteLength;
    for (const [old, kept] of this.arrays) {
      if (this.bytes <= MOST_KEPT) return;
      this.arrays.delete(old);
      this.bytes -= kept.byteLength;
    }
  }

  /** Fetches arrays that are not at hand. */
  async bring(hashes: readonly string[]): Promise<Contents> {
    const at = new Map<string, Uint8Array>();
    for (const hash of hashes) {
      const known = this.arrays.get(hash);
      if (known) at.set(hash, known);
    }
    const lacking = hashes.filter((h) => !at.has(h));
    if (lacking.length) {
      const response = await ask("/api/arrays", { method: "POST", body: JSON.stringify({ hashes: lacking }) });
      let i = 0;
      for await (const array of readArrays(response.body!, makeArray)) {
        at.set(lacking[i]!, array);
        this.note(lacking[i++]!, array);
      }
      if (i < lacking.length) throw new UserError("The server broke off; try again.");
    }
    return (hash) => at.get(hash)!;
  }
}

const makeArray = (size: number): Uint8Array =>
  new Uint8Array(canShare() ? new SharedArrayBuffer(size) : new ArrayBuffer(size));

/** Asks the server. @throws UserError with its words when it refuses, another error when it does not answer */
async function ask(path: string, init?: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(path, init);
  } catch {
    throw new Error("The Tavlin server does not answer; try again when it does.");
  }
  if (response.ok) return response;
  const said = Refusal.safeParse(await response.json().catch(() => null));
  throw new UserError(said.success ? said.data.error : `The server answered ${response.status}.`);
}

/** An asset as it stands on the server, or as it stood at a step. */
export async function fetchAsset(
  store: ArrayStore,
  id: string,
  at?: number,
): Promise<{ asset: Asset; history: z.infer<typeof HistoryState> }> {
  const response = await ask(`/api/assets/${id}${at === undefined ? "" : `?at=${at}`}`, { cache: "no-store" });
  const { name, history, state } = State.parse(await response.json());
  const contents = await store.bring(hashesOf(state));
  return { asset: assetOf(id, name, wholeState(state), contents), history };
}

function wholeState(state: ManifestDelta): Manifest {
  return {
    head: state.head!,
    parts: new Map(state.parts.map((p) => [p.id, p])),
    shapes: new Map(state.shapes.map(({ id, ...refs }) => [id, refs])),
    layouts: new Map(state.layouts.map((l) => [`${l.shape}/${l.set}`, l.refs!])),
  };
}

/** A step that the server sent, with its arrays. */
export async function fetchDelta(store: ArrayStore, delta: ManifestDelta): Promise<AssetDelta> {
  return deltaOf(delta, await store.bring(hashesOf(delta)));
}

/** Notes under which hashes the server has the arrays of an edit made here. */
export function noteArrays(store: ArrayStore, delta: AssetDelta, manifest: ManifestDelta): void {
  for (const [i, { layout }] of delta.layouts.entries()) {
    const refs = manifest.layouts[i]?.refs;
    if (!layout || !refs) continue;
    for (const key of ["cut", "mapped", "uv", "pinned"] as const) store.note(refs[key], layout[key]);
  }
}
