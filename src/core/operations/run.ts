import { type Asset, withLayouts } from "../layout/asset";
import { UserError } from "../layout/user-error";
import type { Context, EditResult, Exported, Scope } from "./operation";
import { operationById, parseOptions } from "./registry";

/** Runs an edit by its id. Pure: the asset given is unchanged, the edited one comes back with what was done. */
export async function runEdit(
  asset: Asset,
  id: string,
  rawOptions: unknown,
  scope: Scope,
  context: Context,
): Promise<{ asset: Asset; result: EditResult }> {
  const op = operationById(id);
  if (op.kind !== "edit") throw new UserError(`${op.title} is not an edit.`);
  const result = await op.run(asset, scope, parseOptions(op, rawOptions), context);
  return { asset: withLayouts(asset, result.changes), result };
}

/** Runs an export by its id. */
export async function runExport(
  asset: Asset,
  id: string,
  rawOptions: unknown,
  scope: Scope,
  context: Context,
): Promise<Exported> {
  const op = operationById(id);
  if (op.kind !== "export") throw new UserError(`${op.title} does not write files.`);
  return op.run(asset, scope, parseOptions(op, rawOptions), context);
}
