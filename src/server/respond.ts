import { UserError } from "../core/layout/user-error";
import { Conflict } from "./assets";

/** Largest body taken in. */
const MOST_BYTES = 512 * 1024 * 1024;

/** Runs a route; refusals come back as one sentence, 409 for a conflict and 400 for the rest. */
export async function respond(act: () => Promise<Response>): Promise<Response> {
  try {
    return await act();
  } catch (error) {
    if (error instanceof UserError)
      return Response.json({ error: error.message }, { status: error instanceof Conflict ? 409 : 400 });
    console.error(error);
    return Response.json(
      { error: "Tavlin failed on this request; the details are in the server's log." },
      { status: 500 },
    );
  }
}

export async function bodyOf(request: Request): Promise<Uint8Array> {
  const length = Number(request.headers.get("content-length") ?? 0);
  if (length > MOST_BYTES) throw new UserError("The upload is over the limit of 512 MB.");
  const bytes = new Uint8Array(await request.arrayBuffer());
  if (bytes.length > MOST_BYTES) throw new UserError("The upload is over the limit of 512 MB.");
  return bytes;
}

export const binary = (
  bytes: Uint8Array,
  type = "application/octet-stream",
  headers: Record<string, string> = {},
): Response =>
  new Response(bytes as BodyInit, { headers: { "content-type": type, "cache-control": "no-store", ...headers } });
