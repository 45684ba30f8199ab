import { PNG } from "pngjs";
import { z } from "zod";
import type { Asset } from "../core/layout/asset";
import { UserError } from "../core/layout/user-error";
import { drawPicture } from "../core/mesh/picture";
import { loadAsset } from "./assets";
import type { Database } from "./database";

const WIDTH = 360;
const HEIGHT = 270;

/** What a picture is to show. */
export interface Look {
  /** Step of the history; what is on the table when it is left out. */
  readonly at?: number | undefined;
  /** Id of the UV set; the first when it is left out or was not there yet. */
  readonly set?: string | undefined;
  readonly swatch: boolean;
}

const Asked = z.object({
  at: z.coerce.number().int().min(0).optional(),
  set: z.string().max(100).optional(),
  swatch: z.coerce.boolean().default(false),
});

export function lookOf(request: Request): Look {
  const parsed = Asked.safeParse(Object.fromEntries(new URL(request.url).searchParams));
  if (!parsed.success) throw new UserError("A picture is asked for by the number of a step and the id of a UV set.");
  return parsed.data;
}

/** The set a look means. */
export const setIndex = (asset: Asset, look: Look): number =>
  Math.max(
    0,
    asset.sets.findIndex((s) => s.id === look.set),
  );

/** The asset's picture as PNG; the plain one is drawn when first asked for, then kept. */
export async function pictureOf(db: Database, id: string, look: Look): Promise<Uint8Array> {
  const plain = look.at === undefined && !look.swatch;
  if (plain) {
    const { rows } = await db.query<{ picture: Uint8Array | null }>("select picture from assets where id = $1", [id]);
    if (!rows[0]) throw new UserError("This asset is no longer there.");
    if (rows[0].picture) return new Uint8Array(rows[0].picture);
  }
  const { asset } = await loadAsset(db, id, look.at);
  const png = new PNG({ width: WIDTH, height: HEIGHT });
  png.data = Buffer.from(drawPicture(asset, WIDTH, HEIGHT, look.swatch ? setIndex(asset, look) : undefined));
  const bytes = PNG.sync.write(png);
  if (plain) await db.query("update assets set picture = $2 where id = $1", [id, bytes]);
  return new Uint8Array(bytes);
}
