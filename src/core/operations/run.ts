import { type Asset, type PartId, partById, placedShape, shapesOf, type UvSetId, withFiles } from "../layout/asset";
import { getBit } from "../layout/bits";
import { deltaBetween } from "../layout/delta";
import { freshIds } from "../layout/fresh-ids";
import { type Layout, structureOf } from "../layout/layout";
import { type HeldSeams, withHeldSeams } from "../layout/seam-locks";
import { UserError } from "../layout/user-error";
import type { PolyMesh } from "../mesh/poly-mesh";
import { wantsImages } from "./move-images";
import type { AnyOperation, Context, EditResult, Exported, Found, Note, Scope } from "./operation";
import { operationById, parseOptions } from "./registry";
import { queryOfScope } from "./scope-query";
import { count } from "./words";

/** Locked parts are left out of "everything visible"; picked ones are a reason to refuse. */
export function withoutLocked(asset: Asset, operation: AnyOperation | string, scope: Scope): Scope {
  const op = typeof operation === "string" ? operationById(operation) : operation;
  if (op.locked === "may") return scope;
  const named = [...(scope.picked ?? []), ...firstParts(asset, scope)];
  for (const id of named) {
    const part = lockedPart(asset, id);
    if (part) throw new UserError(lockWords(part));
  }
  const parts = scope.parts.filter((id) => !lockedPart(asset, id));
  if (!parts.length && scope.parts.length) throw new UserError("Every visible part is locked; unlock some first.");
  return parts.length === scope.parts.length ? scope : { ...scope, parts };
}

/** A part for every shape with something picked. */
const firstParts = (asset: Asset, scope: Scope): PartId[] =>
  [...(scope.selection?.items.keys() ?? [])].map((id) => placedShape(asset, id).parts[0]!.id);

/** The lock that keeps a part from being changed: its own, or that of another part of the same shape. */
const lockedPart = (asset: Asset, id: PartId) =>
  placedShape(asset, partById(asset, id).shape).parts.find((p) => p.locked !== undefined);

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
  const options = parseOptions(op, rawOptions);
  const imported = context.imported?.map(({ source }) => source.key ?? source.name);
  const freshId = freshIds(asset, () => [id, options, queryOfScope(asset, scope), imported]);
  const result = await op.run(asset, withoutLocked(asset, op, scope), options, { ...context, freshId });
  if (op.locked !== "may") {
    const delta = deltaBetween(asset, result.asset);
    const shapes = new Set([...delta.layouts.map((l) => l.shape), ...delta.shapes.map((s) => s.id)]);
    const parts = new Set(delta.parts.map((p) => p.id));
    for (const part of asset.parts)
      if (part.locked !== undefined && (parts.has(part.id) || shapes.has(part.shape)))
        throw new UserError(lockWords(part));
  }
  const held = withHeldSeams(asset, result.asset);
  if (!op.movesPins) refuseMovedPins(asset, held.asset);
  const notes = [...result.notes, ...lockNotes(held)];
  const done = { ...result, asset: held.asset, notes, words: clipped(result.words) };
  const whole = wantsImages(options) ? await movedImages(asset, done, scope.set, context) : done;
  // An asset that holds its files itself goes on holding them: the next step may need them.
  const kept = asset.files ? withFiles(whole.asset, whole.files) : whole.asset;
  return { asset: kept, result: { ...whole, asset: kept } };
}

/** An edit with the images moved that were painted for what it moved. */
export async function movedImages(
  before: Asset,
  result: EditResult,
  set: UvSetId,
  context: Context,
): Promise<EditResult> {
  const { withImagesMoved } = await import("./large/redraw-images");
  return withImagesMoved(before, result, set, context);
}

/** What is said of locked seams: which an edit would have joined, and which are gone with their meshes. */
function lockNotes({ restored, lost }: HeldSeams): Note[] {
  const words = [
    ...(restored ? [`${count(restored, "locked seam edge")} stayed cut.`] : []),
    ...(lost ? [`${count(lost, "locked seam edge")} ${lost > 1 ? "are" : "is"} not there any more.`] : []),
  ];
  return words.map((text) => ({ words: text, shells: [] }));
}

/** Letters that the words of a step may have. */
const MOST_WORDS = 200;
const clipped = (words: string): string => (words.length > MOST_WORDS ? `${words.slice(0, MOST_WORDS - 1)}…` : words);

/** Pinned points do not move and stay pinned, whatever an edit does to a layout. @throws UserError naming the part */
function refuseMovedPins(before: Asset, after: Asset): void {
  for (const was of shapesOf(before)) {
    const now = after.shapes.get(was.id);
    if (!now || now.mesh !== was.mesh) continue;
    for (const [set, old] of was.layouts) {
      const layout = now.layouts.get(set);
      if (layout === old || !old.pinned.some(Boolean)) continue;
      if (!layout || !keepsPins(was.mesh, old, layout))
        throw new UserError(`This would move pinned points of ${was.name}; unpin them first.`);
    }
  }
}

function keepsPins(mesh: PolyMesh, old: Layout, now: Layout): boolean {
  const [a, b] = [structureOf(mesh, old).cornerWedge, structureOf(mesh, now).cornerWedge];
  for (let c = 0; c < a.length; c++) {
    const [v, w] = [a[c]!, b[c]!];
    if (!getBit(old.pinned, v)) continue;
    if (!getBit(now.pinned, w) || old.uv[2 * v] !== now.uv[2 * w] || old.uv[2 * v + 1] !== now.uv[2 * w + 1])
      return false;
  }
  return true;
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
