import type { Asset } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { Context } from "../operation";

/** The asset read from the file that was given to this operation. @throws UserError when there is none */
export function importedAsset(context: Context): Asset {
  const asset = context.imported?.[0];
  if (!asset) throw new UserError("Bring a file for it.");
  return asset;
}
