import { type Asset, type PartId, partById } from "../layout/asset";
import { deltaBetween } from "../layout/delta";
import { UserError } from "../layout/user-error";
import type { AnyOperation, Context, EditResult, Exported, Found, Scope } from "./operation";
import { operationById, parseOptions } from "./registry";

/** Locked parts are left out of "everything visible"; picked ones are a reason to refuse. */
function withoutLocked(asset: Asset, op: AnyOperation, scope: Scope): Scope {
  if (op.locked === "may") return scope;
  const refusing = (id: PartId) => lockedPart(asset, id);
  for (const id of scope.selection?.items.keys() ?? []) {
    const part = refusing(id);
    if (part) throw new UserError(lockWords(part));
  }
  const parts = scope.parts.filter((id) => !refusing(id));
  if (!parts.length && scope.parts.length) throw new UserError("Every visible part is locked; unlock some first.");
  return parts.length === scope.parts.length ? scope : { ...scope, parts };
}

function lockedPart(asset: Asset, id: PartId) {
  const part = partById(asset, id);
  if (part.locked !== undefined) return part;
  const owner = part.instanceOf === undefined ? part : partById(asset, part.instanceOf);
  return owner.locked !== undefined ? owner : undefined;
}

const lockWords = (part: { name: string; locked?: string }): string =>
  `${part.name} is locked${part.locked ? `: ${part.locked}` : ""}. Unlock it first.`;

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
  const result = await op.run(asset, withoutLocked(asset, op, scope), parseOptions(op, rawOptions), context);
  if (op.locked !== "may") {
    const delta = deltaBetween(asset, result.asset);
    const touched = new Set([...delta.layouts.map((l) => l.part), ...delta.parts.map((p) => p.record.id)]);
    for (const part of asset.parts)
      if (part.locked !== undefined && touched.has(part.id)) throw new UserError(lockWords(part));
  }
  return { asset: result.asset, result };
}

/** Runs a picking operation by its id. */
export async function runSelect(
  asset: Asset,
  id: string,
  rawOptions: unknown,
  scope: Scope,
  context: Context,
): Promise<Found> {
  const op = operationById(id);
  if (op.kind !== "select") throw new UserError(`${op.title} does not pick.`);
  return op.run(asset, scope, parseOptions(op, rawOptions), context);
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
