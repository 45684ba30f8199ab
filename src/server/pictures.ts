import { randomUUID } from "node:crypto";
import { UserError } from "../core/layout/user-error";
import type { OwnPicture } from "../wire/answers";
import type { Queries } from "./queries";
import { Missing } from "./refusals";

// A small library of pictures of the user's own, to be laid over the faces in place of a swatch.

/** Bytes of one picture, and how many there may be. */
const [MOST_BYTES, MOST_PICTURES] = [16 * 1024 * 1024, 64];

/** What kinds of picture begin with. A file may be named anything. */
const KINDS: ReadonlyArray<readonly [type: string, is: (b: Uint8Array) => boolean]> = [
  ["image/png", (b) => b[0] === 0x89 && b[1] === 0x50 && b[2] === 0x4e && b[3] === 0x47],
  ["image/jpeg", (b) => b[0] === 0xff && b[1] === 0xd8 && b[2] === 0xff],
  ["image/webp", (b) => letters(b, 0) === "RIFF" && letters(b, 8) === "WEBP"],
];

const letters = (bytes: Uint8Array, at: number): string => String.fromCharCode(...bytes.subarray(at, at + 4));

export async function listPictures(db: Queries): Promise<OwnPicture[]> {
  return (await db.query<OwnPicture>("select id, name from pictures order by created_at, id")).rows;
}

/** Takes a picture into the library. @throws UserError where it is none, or there is no room for it */
export async function addPicture(db: Queries, name: string, bytes: Uint8Array): Promise<string> {
  const type = KINDS.find(([, is]) => is(bytes))?.[0];
  if (!type) throw new UserError(`The file ${name} is no picture that can be shown: PNG, JPEG and WebP are.`);
  if (bytes.length > MOST_BYTES)
    throw new UserError(`The file ${name} is over the limit of ${MOST_BYTES / 1024 ** 2} MB for a picture.`);
  const { rows } = await db.query<{ count: number }>("select count(*)::int as count from pictures");
  if (rows[0]!.count >= MOST_PICTURES)
    throw new UserError(`The library holds ${MOST_PICTURES} pictures, and no more; delete one first.`);
  const id = randomUUID();
  await db.query("insert into pictures (id, name, type, bytes) values ($1, $2, $3, $4)", [id, name, type, bytes]);
  return id;
}

export async function pictureBytes(db: Queries, id: string): Promise<{ type: string; bytes: Uint8Array }> {
  const { rows } = await db.query<{ type: string; bytes: Uint8Array }>(
    "select type, bytes from pictures where id = $1",
    [id],
  );
  if (!rows[0]) throw new Missing("This picture is no longer there.");
  return rows[0];
}

export async function deletePicture(db: Queries, id: string): Promise<void> {
  const { rows } = await db.query("delete from pictures where id = $1 returning 1", [id]);
  if (!rows.length) throw new Missing("This picture is no longer there.");
}
