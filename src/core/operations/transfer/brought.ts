import type { Asset } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { Context } from "../operation";

/** The asset read from the file that was brought for this operation. @throws UserError when there is none */
export function broughtAsset(context: Context): Asset {
  const asset = context.brought?.[0];
  if (!asset) throw new UserError("Bring a file for it.");
  return asset;
}
