import { z } from "zod";
import { plainText } from "../formats/schema-words";
import { type Asset, type Part, type PartId, partById, placedShape, type ShapeId } from "../layout/asset";
import { SELECTION_KINDS } from "../layout/selection-kind";
import { UserError } from "../layout/user-error";
import type { Scope, Selection } from "./operation";

// What an operation acted on, so that it can be said again: here after the step was taken back, and on another asset.

const Elements = z.object({
  kind: z.enum(SELECTION_KINDS),
  /** By shape: runs of elements, first and length in turn. */
  runs: z.record(z.string(), z.array(z.number().int().min(0))),
});

/** Ids of the parts that are named, in turn: parts may share a name. */
const Ids = z.array(z.string()).optional();

/** A scope that can be said. Everything but single elements means something on another asset as well. */
export const ScopeQuery = z.object({
  /** The UV set, by name and by place. */
  set: z.object({ name: plainText(1000), place: z.number().int().min(0) }),
  of: z.discriminatedUnion("by", [
    /** Everything visible; what was hidden is named. */
    z.object({ by: z.literal("visible"), hidden: z.array(plainText(1000)), ids: Ids }),
    z.object({ by: z.literal("name"), names: z.array(plainText(1000)), ids: Ids }),
    /** Names like a pattern, with * for anything. */
    z.object({ by: z.literal("pattern"), pattern: plainText(1000) }),
    z.object({ by: z.literal("group"), path: z.array(plainText(1000)) }),
    z.object({ by: z.literal("material"), name: plainText(1000) }),
    /** These elements, of this asset only. */
    z.object({ by: z.literal("elements"), elements: Elements }),
  ]),
});
export type ScopeQuery = z.infer<typeof ScopeQuery>;

/** Says a scope. */
export function queryOfScope(asset: Asset, scope: Scope): ScopeQuery {
  const place = Math.max(
    0,
    asset.sets.findIndex((s) => s.id === scope.set),
  );
  const set = { name: asset.sets[place]!.name, place };
  if (scope.picked) {
    const picked = scope.picked.map((id) => partById(asset, id));
    return { set, of: { by: "name", names: picked.map((p) => p.name), ids: picked.map((p) => p.id) } };
  }
  if (scope.selection) {
    const runs = Object.fromEntries([...scope.selection.items].map(([id, items]) => [id, runsOf(items)]));
    return { set, of: { by: "elements", elements: { kind: scope.selection.kind, runs } } };
  }
  const visible = new Set(scope.parts);
  const hidden = asset.parts.filter((p) => !visible.has(p.id));
  return { set, of: { by: "visible", hidden: hidden.map((p) => p.name), ids: hidden.map((p) => p.id) } };
}

/** What a query means on an asset. @throws UserError when it means nothing there */
export function resolveScope(asset: Asset, { set, of }: ScopeQuery): Scope {
  const target = asset.sets.find((s) => s.name === set.name) ?? asset.sets[set.place];
  if (!target) throw new UserError(`There is no UV set ${set.name}.`);
  const all = asset.parts.map((p) => p.id);
  const base = { set: target.id, parts: all };
  if (of.by === "visible") {
    const isHidden = named(asset, of.hidden, of.ids);
    return { ...base, parts: asset.parts.filter((p) => !isHidden(p)).map((p) => p.id) };
  }
  if (of.by === "elements") return { ...base, selection: selectionOf(asset, of.elements) };
  if (of.by === "material") return { ...base, selection: facesOfMaterial(asset, of.name) };
  const meant =
    of.by === "name" ? named(asset, of.names, of.ids) : of.by === "pattern" ? like(of.pattern) : inGroup(of.path);
  const picked: PartId[] = asset.parts.filter(meant).map((p) => p.id);
  if (!picked.length) throw new UserError("No part is called that.");
  return { ...base, picked };
}

/** Parts by name; by id where the asset has all of them under these names, as when the step was made on it. */
const named = (asset: Asset, names: readonly string[], ids: readonly string[] | undefined) => {
  const own = new Map(asset.parts.map((p) => [p.id, p.name]));
  const known = ids?.length === names.length && ids.every((id, i) => own.get(id) === names[i]);
  const wanted = new Set(known ? ids : names);
  return (p: Part) => wanted.has(known ? p.id : p.name);
};

const like = (pattern: string) => {
  const escaped = pattern.replace(/[.+?^${}()|[\]\\]/g, "\\$&").replaceAll("*", ".*");
  const expression = new RegExp(`^${escaped}$`, "i");
  return (p: Part) => expression.test(p.name);
};

const inGroup = (path: readonly string[]) => (p: Part) => path.every((name, i) => p.path[i] === name);

function facesOfMaterial(asset: Asset, name: string): Selection {
  const wanted = new Set(asset.materials.flatMap((m, i) => (m.name === name ? [i] : [])));
  const items = new Map<ShapeId, Uint32Array>();
  for (const [id, { mesh }] of asset.shapes) {
    const faces: number[] = [];
    mesh.faceMaterial.forEach((m, f) => {
      if (wanted.has(m)) faces.push(f);
    });
    if (faces.length) items.set(id, Uint32Array.from(faces));
  }
  if (!items.size) throw new UserError(`Nothing is of material ${name}.`);
  return { kind: "faces", items };
}

function selectionOf(asset: Asset, { kind, runs }: z.infer<typeof Elements>): Selection {
  const items = new Map<ShapeId, Uint32Array>();
  for (const [id, list] of Object.entries(runs)) {
    placedShape(asset, id);
    const out: number[] = [];
    for (let i = 0; i + 1 < list.length; i += 2) for (let k = 0; k < list[i + 1]!; k++) out.push(list[i]! + k);
    items.set(id, Uint32Array.from(out));
  }
  return { kind, items };
}

/** Ascending numbers as runs: first and length in turn. */
function runsOf(items: Uint32Array): number[] {
  const sorted = items.slice().sort();
  const out: number[] = [];
  for (const i of sorted) {
    const end = out.length ? out.at(-2)! + out.at(-1)! : -1;
    if (out.length && i === end) out[out.length - 1]!++;
    else out.push(i, 1);
  }
  return out;
}
