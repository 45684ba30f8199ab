import { z } from "zod";
import type { Summary } from "@/core/check/summary";
import { decodeBundle } from "@/core/formats/bundle";
import type { Files } from "@/core/formats/delta-bundle";
import { UserError } from "@/core/layout/user-error";
import {
  Created,
  ExportNumber,
  HistoryList,
  HistoryState,
  type OwnPicture,
  PictureList,
  Refusal,
  Restored,
} from "@/wire/answers";
import { ManifestDelta } from "@/wire/manifest";
import type { HistoryStep, MarkChange, NewMark } from "@/wire/requests";

/** The server refused because somebody else was there first. */
export class VersionConflict extends UserError {
  override name = "VersionConflict";
}

/** The server did not answer: whether it has what was sent is not known. */
export class NoAnswer extends UserError {
  override name = "NoAnswer";
}

async function ask(path: string, init?: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(path, { cache: "no-store", ...init });
  } catch {
    throw new NoAnswer("The Tavlin server does not answer; your edits are kept in this page until it does.");
  }
  if (response.ok) return response;
  const said = Refusal.safeParse(await response.json().catch(() => null));
  const words = said.success ? said.data.error : `The server answered ${response.status}.`;
  // A gateway between here and the server speaks in its place: nothing was decided.
  if (response.status === 502 || response.status === 503 || response.status === 504) throw new NoAnswer(words);
  throw response.status === 409 ? new VersionConflict(words) : new UserError(words);
}

/** Puts an asset, as a bundle, on the server. */
export async function sendAsset(bundle: Uint8Array<ArrayBuffer>): Promise<string> {
  const response = await ask("/api/assets", { method: "POST", body: bundle });
  return Created.parse(await response.json()).id;
}

const Appended = z.object({ history: HistoryState, delta: ManifestDelta });
export type Appended = z.infer<typeof Appended>;

export async function sendEdit(id: string, body: Uint8Array<ArrayBuffer>): Promise<Appended> {
  return Appended.parse(await (await ask(`/api/assets/${id}/revisions`, { method: "POST", body })).json());
}

export async function sendStep(id: string, base: number, step: HistoryStep): Promise<Appended> {
  const response = await ask(`/api/assets/${id}/step`, { method: "POST", body: JSON.stringify({ base, step }) });
  return Appended.parse(await response.json());
}

/** Source and images of an asset, by key. */
export async function fetchFiles(id: string): Promise<Files> {
  const { json, arrays } = decodeBundle(new Uint8Array(await (await ask(`/api/assets/${id}/files`)).arrayBuffer()));
  const keys = z.array(z.string()).parse(json);
  return Object.fromEntries(keys.map((key, i) => [key, arrays[i] as Uint8Array]));
}

/** The steps that led to what is on the table, as a file. */
export const fetchSteps = async (id: string): Promise<Uint8Array<ArrayBuffer>> =>
  new Uint8Array(await (await ask(`/api/assets/${id}/steps`)).arrayBuffer());

export const fetchHistory = async (id: string): Promise<z.infer<typeof HistoryList>> =>
  HistoryList.parse(await (await ask(`/api/assets/${id}/history`)).json());

export const sendMark = (id: string, mark: NewMark) =>
  ask(`/api/assets/${id}/marks`, { method: "POST", body: JSON.stringify(mark) });

export const changeMarkRemote = (id: string, mark: MarkChange) =>
  ask(`/api/assets/${id}/marks`, { method: "PATCH", body: JSON.stringify(mark) });

export const deleteMarkRemote = (id: string, mark: string) =>
  ask(`/api/assets/${id}/marks?mark=${encodeURIComponent(mark)}`, { method: "DELETE" });

/** The next number for files written of an asset. */
export async function takeNumber(id: string): Promise<number> {
  return ExportNumber.parse(await (await ask(`/api/assets/${id}/exports`, { method: "POST" })).json()).number;
}

/** Puts a backup back, of any size; returns how many assets it held. */
export async function restoreRemote(file: Blob): Promise<number> {
  return Restored.parse(await (await ask("/api/backup", { method: "POST", body: file })).json()).ids.length;
}

export const renameRemote = (id: string, name: string) =>
  ask(`/api/assets/${id}`, { method: "PATCH", body: JSON.stringify({ name }) });

/** Tells the server what a version measures, for Home and the history; of no consequence when it fails. */
export const sendFigures = (id: string, version: number, figures: Summary) =>
  ask(`/api/assets/${id}`, { method: "PATCH", body: JSON.stringify({ version, figures }) }).catch(() => {});

/** The library of pictures of the user's own. */
export const fetchPictures = async (): Promise<readonly OwnPicture[]> =>
  PictureList.parse(await (await ask("/api/pictures")).json()).pictures;

export const sendPicture = async (file: File): Promise<string> =>
  Created.parse(
    await (await ask(`/api/pictures?name=${encodeURIComponent(file.name)}`, { method: "POST", body: file })).json(),
  ).id;

export const deletePictureRemote = (id: string) => ask(`/api/pictures/${encodeURIComponent(id)}`, { method: "DELETE" });

export const deleteRemote = (id: string) => ask(`/api/assets/${id}`, { method: "DELETE" });

/** What of the server a session saves to. */
export const savingServer = { sendEdit, sendStep, sendFigures };
