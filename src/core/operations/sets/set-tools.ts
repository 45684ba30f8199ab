import { z } from "zod";
import { type Asset, type Part, PURPOSES, type SetInfo, withParts } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { UvSet } from "../../layout/uv-set";

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
  .meta({ title: "Purpose", description: "What the set is for; receivers are told by it" });
export const otherOption = z
  .string()
  .default("")
  .meta({ title: "Other set", description: "The other UV set", from: "sets" });

/** The index of the set an option names, other than the target. @throws UserError when there is none */
export function otherSet(asset: Asset, target: number, name: string): number {
  const found = asset.sets.findIndex((s, i) => i !== target && (s.id === name || s.name === name));
  if (found >= 0) return found;
  if (name || asset.sets.length !== 2) throw new UserError("Say which other UV set is meant.");
  return 1 - target;
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

/** The asset with a set put in, and a layout of it for every part that owns one. */
export function withNewSet(asset: Asset, at: number, info: SetInfo, layout: (part: Part) => UvSet | undefined): Asset {
  if (asset.sets.length >= MOST_SETS) throw new UserError(`An asset has at most ${MOST_SETS} UV sets.`);
  const sets = [...asset.sets.slice(0, at), info, ...asset.sets.slice(at)];
  return reordered({ ...asset, sets }, (part) => {
    const list = asset.sets.map((_, i) => part.uvSets[i]);
    list.splice(at, 0, layout(part));
    return list;
  });
}

/** The asset with the layouts of its parts put otherwise; instances follow. */
export const reordered = (asset: Asset, lay: (part: Part) => Array<UvSet | undefined>): Asset =>
  withParts(
    asset,
    asset.parts.map((p) => (p.instanceOf === undefined ? { ...p, uvSets: lay(p) } : p)),
  );

/** The asset with what is told of one set changed. */
export const withInfo = (asset: Asset, at: number, change: Partial<SetInfo>): Asset => ({
  ...asset,
  sets: asset.sets.map((s, i) => (i === at ? { ...s, ...change } : s)),
});
