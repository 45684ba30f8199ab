import { PNG } from "pngjs";
import { UserError } from "../core/layout/user-error";
import { drawPicture } from "../core/mesh/picture";
import { loadAsset } from "./assets";
import type { Database } from "./database";

const WIDTH = 360;
const HEIGHT = 270;

/** The asset's picture as PNG; drawn when first asked for, then kept. */
export async function pictureOf(db: Database, id: string): Promise<Uint8Array> {
  const { rows } = await db.query<{ picture: Uint8Array | null }>("select picture from assets where id = $1", [id]);
  if (!rows[0]) throw new UserError("This asset is no longer there.");
  if (rows[0].picture) return rows[0].picture;
  const { asset } = await loadAsset(db, id);
  const png = new PNG({ width: WIDTH, height: HEIGHT });
  png.data = Buffer.from(drawPicture(asset, WIDTH, HEIGHT));
  const bytes = PNG.sync.write(png);
  await db.query("update assets set picture = $2 where id = $1", [id, bytes]);
  return new Uint8Array(bytes);
}
