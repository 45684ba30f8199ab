import { z } from "zod";
import type { Summary } from "@/core/check/summary";
import { decodeAsset, decodeChanges, encodeAsset, encodeChanges } from "@/core/formats/asset-bundle";
import type { Asset, LayoutChange } from "@/core/layout/asset";
import { UserError } from "@/core/layout/user-error";
import type { HistoryState } from "@/server/store";

/** The server refused because somebody else was there first. */
export class Overtaken extends UserError {
  override name = "Overtaken";
}

const History = z.object({
  version: z.number(),
  head: z.number(),
  undo: z.string().nullable(),
  redo: z.string().nullable(),
});

async function ask(path: string, init?: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(path, { cache: "no-store", ...init });
  } catch {
    throw new UserError("The Tavlin server does not answer; what is on the table is kept here until it does.");
  }
  if (response.ok) return response;
  const said = z.object({ error: z.string() }).safeParse(await response.json().catch(() => null));
  const words = said.success ? said.data.error : `The server answered ${response.status}.`;
  throw response.status === 409 ? new Overtaken(words) : new UserError(words);
}

export async function fetchAsset(id: string): Promise<{ asset: Asset; history: HistoryState }> {
  const response = await ask(`/api/assets/${id}`);
  const history = History.parse(JSON.parse(decodeURIComponent(response.headers.get("x-history") ?? "null")));
  return { asset: decodeAsset(new Uint8Array(await response.arrayBuffer())), history };
}

export async function sendAsset(asset: Asset): Promise<string> {
  const response = await ask("/api/assets", { method: "POST", body: encodeAsset(asset) });
  return z.object({ id: z.string() }).parse(await response.json()).id;
}

export interface Revision {
  readonly base: number;
  readonly operation: string;
  readonly options: unknown;
  readonly words: string;
  readonly figures: unknown;
}

export async function sendRevision(
  id: string,
  revision: Revision,
  changes: readonly LayoutChange[],
): Promise<HistoryState> {
  const response = await ask(`/api/assets/${id}/revisions`, {
    method: "POST",
    body: encodeChanges(changes, { ...revision }),
  });
  return History.parse(await response.json());
}

export async function sendStep(
  id: string,
  base: number,
  direction: "undo" | "redo",
): Promise<{ history: HistoryState; changes: LayoutChange[] }> {
  const response = await ask(`/api/assets/${id}/step`, { method: "POST", body: JSON.stringify({ base, direction }) });
  const { changes, beside } = decodeChanges(
    new Uint8Array(await response.arrayBuffer()),
    z.object({ history: History }),
  );
  return { history: beside.history, changes };
}

export async function fetchSource(id: string): Promise<Uint8Array> {
  return new Uint8Array(await (await ask(`/api/assets/${id}/source`)).arrayBuffer());
}

export const renameRemote = (id: string, name: string) =>
  ask(`/api/assets/${id}`, { method: "PATCH", body: JSON.stringify({ name }) });

/** Tells the server what a version measures, for Home and the history; of no consequence when it fails. */
export const sendFigures = (id: string, version: number, figures: Summary) =>
  ask(`/api/assets/${id}`, { method: "PATCH", body: JSON.stringify({ version, figures }) }).catch(() => {});

export const deleteRemote = (id: string) => ask(`/api/assets/${id}`, { method: "DELETE" });
