import { z } from "zod";
import { plainText } from "../core/formats/schema-words";
import { UserError } from "../core/layout/user-error";
import { refusalOf, settingsOf, slowDown } from "./guard";
import { Missing } from "./refusals";

/** Largest body of bytes taken in. */
export const MOST_BYTES = 512 * 1024 * 1024;
/** Largest body of JSON: words and figures, never arrays. */
const MOST_JSON = 1024 * 1024;

const settings = settingsOf(process.env);

/**
 * Runs a route once the guard has let the request in. Refusals come back as one sentence: 404 for what is not there,
 * 409 for a conflict, 413 for what is too large, 507 for a full disk, and 400 for the rest.
 */
export async function respond(request: Request, act: () => Promise<Response>): Promise<Response> {
  const refused = refusalOf(request, settings);
  if (refused) {
    await slowDown(refused);
    return Response.json({ error: refused.error }, { status: refused.status });
  }
  try {
    return await act();
  } catch (error) {
    const status = statusOf(error);
    if (status < 500) return Response.json({ error: (error as Error).message }, { status });
    const words = diskWords(error);
    if (words) return Response.json({ error: words }, { status: 507 });
    console.error(error);
    return Response.json(
      { error: "Tavlin failed on this request; the details are in the server's log." },
      { status: 500 },
    );
  }
}

/** A body over the limit. */
class TooLarge extends UserError {
  override name = "TooLarge";
}

const STATUS: Readonly<Record<string, number>> = { Conflict: 409, Missing: 404, TooLarge: 413, UserError: 400 };

/** By name and not by class: errors of the database and its threads come from whichever bundle opened it. */
const statusOf = (error: unknown): number => (error instanceof Error && STATUS[error.name]) || 500;

/** A sentence for a disk that is full or may not be written, wherever in the database that came up. */
export function diskWords(error: unknown): string | null {
  const { code, message } = error as { code?: string; message?: string };
  if (code === "ENOSPC" || code === "53100" || /no space left|could not (extend|write)/i.test(message ?? ""))
    return "The disk with the data is full. Nothing of this request was kept; what was saved before is safe.";
  if (code === "EROFS" || code === "EACCES" || code === "25006" || /read-only/i.test(message ?? ""))
    return "The data cannot be written: its folder is read-only. Nothing of this request was kept.";
  return null;
}

/** Reads a body piece by piece, and no further than the limit, whatever its header says of its length. */
async function bytesUpTo(request: Request, most: number, words: string): Promise<Uint8Array<ArrayBuffer>> {
  if (Number(request.headers.get("content-length") ?? 0) > most) throw new TooLarge(words);
  const pieces: Uint8Array[] = [];
  let size = 0;
  const reader = request.body?.getReader();
  while (reader) {
    const { done, value } = await reader.read();
    if (done) break;
    size += value.length;
    if (size > most) {
      await reader.cancel();
      throw new TooLarge(words);
    }
    pieces.push(value);
  }
  const out = new Uint8Array(size);
  let at = 0;
  for (const p of pieces) {
    out.set(p, at);
    at += p.length;
  }
  return out;
}

/** The bytes of an upload. @throws UserError over the limit */
export const bodyOf = (request: Request): Promise<Uint8Array<ArrayBuffer>> =>
  bytesUpTo(request, MOST_BYTES, "The upload is over the limit of 512 MB.");

/** A request's JSON by its schema. @throws UserError with `words` when it is none */
export async function jsonOf<T>(request: Request, schema: z.ZodType<T>, words: string, most = MOST_JSON): Promise<T> {
  const bytes = await bytesUpTo(request, most, `The request is over the limit of ${most / 1024 ** 2} MB.`);
  let raw: unknown;
  try {
    raw = JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    throw new UserError(words);
  }
  const parsed = schema.safeParse(raw);
  if (!parsed.success) throw new UserError(words);
  return parsed.data;
}

const Id = plainText(100, 1);

/** The id in a route's address. @throws Missing for one that nothing could have */
export async function idOf(params: Promise<{ id: string }>): Promise<string> {
  const id = Id.safeParse((await params).id);
  if (!id.success) throw new Missing("This asset is no longer there.");
  return id.data;
}

/** What stands behind the question mark, by its schema. @throws UserError with `words` */
export function queryOf<T>(request: Request, schema: z.ZodType<T>, words: string): T {
  const parsed = schema.safeParse(Object.fromEntries(new URL(request.url).searchParams));
  if (!parsed.success) throw new UserError(words);
  return parsed.data;
}

/** A step's number in a query. */
export const StepNumber = z.coerce.number().int().min(0).max(0x7fffffff);

export const binary = (
  bytes: Uint8Array,
  type = "application/octet-stream",
  headers: Record<string, string> = {},
): Response =>
  new Response(bytes as BodyInit, { headers: { "content-type": type, "cache-control": "no-store", ...headers } });

/** A body as it comes, of any size. */
export async function* bodyStream(request: Request): AsyncGenerator<Uint8Array> {
  const reader = request.body?.getReader();
  while (reader) {
    const { done, value } = await reader.read();
    if (done) return;
    yield value;
  }
}

/** An answer as it is made. A fault in the middle breaks the download off, so that no half is taken for the whole. */
export function streamed(
  bytes: AsyncIterable<Uint8Array>,
  type: string,
  headers: Record<string, string> = {},
): Response {
  const iterator = bytes[Symbol.asyncIterator]();
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { done, value } = await iterator.next();
      if (done) controller.close();
      else controller.enqueue(value);
    },
    async cancel() {
      await iterator.return?.();
    },
  });
  return new Response(body, { headers: { "content-type": type, "cache-control": "no-store", ...headers } });
}
