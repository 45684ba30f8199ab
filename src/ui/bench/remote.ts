import { z } from "zod";
import type { Summary } from "@/core/check/summary";
import { decodeDelta, encodeDelta, type Files } from "@/core/formats/asset-bundle";
import { decodeBundle } from "@/core/formats/bundle";
import type { AssetDelta } from "@/core/layout/delta";
import { UserError } from "@/core/layout/user-error";
import type { HistoryState } from "@/server/assets";
import type { Mark } from "@/server/marks";
import type { Revision as Step } from "@/server/revisions";

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

/** An asset as it stands, or as it stood at a step, in the bytes that a worker reads. */
export async function fetchAsset(id: string, at?: number): Promise<{ bytes: ArrayBuffer; history: HistoryState }> {
  const response = await ask(`/api/assets/${id}${at === undefined ? "" : `?at=${at}`}`);
  const history = History.parse(JSON.parse(decodeURIComponent(response.headers.get("x-history") ?? "null")));
  return { bytes: await response.arrayBuffer(), history };
}

/** Puts an asset, as a bundle, on the server. */
export async function sendAsset(bundle: Uint8Array<ArrayBuffer>): Promise<string> {
  const response = await ask("/api/assets", { method: "POST", body: bundle });
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
  delta: AssetDelta,
  files: Files = {},
): Promise<HistoryState> {
  const response = await ask(`/api/assets/${id}/revisions`, {
    method: "POST",
    body: encodeDelta(delta, { ...revision }, files),
  });
  return History.parse(await response.json());
}

export async function sendStep(
  id: string,
  base: number,
  step: "undo" | "redo" | { to: number },
): Promise<{ history: HistoryState; delta: AssetDelta }> {
  const response = await ask(`/api/assets/${id}/step`, { method: "POST", body: JSON.stringify({ base, step }) });
  const { delta, beside } = decodeDelta(new Uint8Array(await response.arrayBuffer()), z.object({ history: History }));
  return { history: beside.history, delta };
}

/** Source and images of an asset, by key. */
export async function fetchFiles(id: string): Promise<Files> {
  const { json, arrays } = decodeBundle(new Uint8Array(await (await ask(`/api/assets/${id}/files`)).arrayBuffer()));
  return Object.fromEntries(
    z
      .array(z.string())
      .parse(json)
      .map((key, i) => [key, arrays[i] as Uint8Array]),
  );
}

const StepJson = z.object({
  number: z.number(),
  parent: z.number().nullable(),
  operation: z.string(),
  words: z.string(),
  figures: z.unknown(),
  at: z.string(),
});
const MarkJson = z.object({
  id: z.string(),
  number: z.number(),
  name: z.string(),
  note: z.string(),
  automatic: z.boolean(),
  figures: z.unknown(),
  at: z.string(),
});

export async function fetchHistory(id: string): Promise<{ steps: Step[]; marks: Mark[] }> {
  const raw: unknown = await (await ask(`/api/assets/${id}/history`)).json();
  return z.object({ steps: z.array(StepJson), marks: z.array(MarkJson) }).parse(raw);
}

export const sendMark = (id: string, mark: { name: string; note?: string; automatic?: boolean; number?: number }) =>
  ask(`/api/assets/${id}/marks`, { method: "POST", body: JSON.stringify(mark) });

export const changeMarkRemote = (id: string, mark: { id: string; name: string; note: string }) =>
  ask(`/api/assets/${id}/marks`, { method: "PATCH", body: JSON.stringify(mark) });

export const deleteMarkRemote = (id: string, mark: string) =>
  ask(`/api/assets/${id}/marks?mark=${encodeURIComponent(mark)}`, { method: "DELETE" });

/** The next number for files written of an asset. */
export async function takeNumber(id: string): Promise<number> {
  const response = await ask(`/api/assets/${id}/exports`, { method: "POST" });
  return z.object({ number: z.number() }).parse(await response.json()).number;
}

/** Puts a backup back; answers how many assets it held. */
export async function restoreRemote(bytes: ArrayBuffer): Promise<number> {
  const response = await ask("/api/backup", { method: "POST", body: bytes });
  return z.object({ ids: z.array(z.string()) }).parse(await response.json()).ids.length;
}

export const renameRemote = (id: string, name: string) =>
  ask(`/api/assets/${id}`, { method: "PATCH", body: JSON.stringify({ name }) });

/** Tells the server what a version measures, for Home and the history; of no consequence when it fails. */
export const sendFigures = (id: string, version: number, figures: Summary) =>
  ask(`/api/assets/${id}`, { method: "PATCH", body: JSON.stringify({ version, figures }) }).catch(() => {});

export const deleteRemote = (id: string) => ask(`/api/assets/${id}`, { method: "DELETE" });
