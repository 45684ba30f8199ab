import { type Asset, type Part, partById } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { Scope } from "../operation";

/** The parts that are picked, instances for themselves. @throws UserError when none is */
export function pickedParts(asset: Asset, scope: Scope): Part[] {
  if (!scope.selection?.items.size) throw new UserError("Pick a part first.");
  return [...scope.selection.items.keys()].map((id) => partById(asset, id));
}
