import { z } from "zod";
import {
  type Asset,
  mapShapes,
  type PlacedShape,
  PURPOSES,
  type Shape,
  type UvSet,
  type UvSetId,
} from "../../layout/asset";
import type { Layout } from "../../layout/layout";
import { UserError } from "../../layout/user-error";

/** Sets an asset may have: more than any receiver knows what to do with. */
export const MOST_SETS = 16;

export const nameOption = z
  .string()
  .trim()
  .max(100)
  .default("")
  .meta({ title: "Name", description: "Name of the UV set" });
export const purposeOption = z
  .enum(PURPOSES)
  .default("unique")
  .meta({ title: "Purpose", description: "What the set is for; it is written into exports" });
export const otherOption = z
  .string()
  .default("")
  .meta({ title: "Other set", description: "The other UV set", from: "sets" });

/** The set an option names, other than the target. @throws UserError when there is none */
export function otherSet(asset: Asset, target: UvSetId, name: string): UvSet {
  const others = asset.sets.filter((s) => s.id !== target);
  const found = others.find((s) => s.id === name) ?? others.find((s) => s.name === name);
  if (found) return found;
  if (name || others.length !== 1) throw new UserError("Say which other UV set is meant.");
  return others[0]!;
}

/** A name not taken yet: itself, or with a number behind it. */
export function freeName(asset: Asset, wanted: string): string {
  const taken = new Set(asset.sets.map((s) => s.name));
  if (!taken.has(wanted)) return wanted;
  for (let n = 2; ; n++) if (!taken.has(`${wanted} ${n}`)) return `${wanted} ${n}`;
}

/** The lowest coordinate set no other is written as, or none when all eight are taken. */
export function freeExport(asset: Asset): number | null {
  for (let n = 0; n < 8; n++) if (!asset.sets.some((s) => s.exportAs === n)) return n;
  return null;
}

/** The asset with a set put in at a place of the list, and a layout in it for every shape that has one to give. */
export function withNewSet(asset: Asset, at: number, set: UvSet, layout: (shape: Shape) => Layout | undefined): Asset {
  if (asset.sets.length >= MOST_SETS) throw new UserError(`An asset has at most ${MOST_SETS} UV sets.`);
  const sets = [...asset.sets.slice(0, at), set, ...asset.sets.slice(at)];
  return withLayoutsIn({ ...asset, sets }, set.id, layout);
}

/** The asset with the layouts of one set replaced, or taken away where there is none to be. */
export const withLayoutsIn = (asset: Asset, set: UvSetId, layout: (shape: PlacedShape) => Layout | undefined): Asset =>
  mapShapes(asset, (shape) => {
    const next = layout(shape);
    if (next === shape.layouts.get(set)) return shape;
    const layouts = new Map(shape.layouts);
    if (next) layouts.set(set, next);
    else layouts.delete(set);
    return { ...shape, layouts };
  });

/** The asset with the properties of one set changed. */
export const withSet = (asset: Asset, id: UvSetId, change: Partial<UvSet>): Asset => ({
  ...asset,
  sets: asset.sets.map((s) => (s.id === id ? { ...s, ...change } : s)),
});
