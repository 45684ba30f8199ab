import { type Asset, partById, type UvSetId } from "../../layout/asset";
import { facesOfShell, shellName, structureOf } from "../../layout/layout";
import { itemsOfRuns } from "../../layout/named-selection";
import type { GroupedBy } from "../../layout/pack-wishes";
import { ratioOf } from "../../layout/shell-marks";
import { tileAt } from "../../layout/tile-list";
import { faceCount } from "../../mesh/poly-mesh";
import { boundsOf, type Item } from "../../pack/raster";
import { AS_THEY_ARE, twinMatch } from "../../place/twin-shells";
import { converted } from "../../select/convert";
import { elementCount, flagsAt } from "../../select/grow";
import { asTwins } from "../place/twins";
import type { Owner, PackWork } from "./pack-work";

/** Groups of items: by item the number of its group, and the names of groups by their numbers. */
export interface Groups {
  readonly of: readonly number[];
  readonly names: readonly string[];
}

/** What stands for shells that belong to no group. */
const OTHERS = "others";

/** The groups that items belong to, those with most area first, or the highest ratio; null where none are asked for. */
export function groupsOf(
  asset: Asset,
  work: readonly PackWork[],
  owners: readonly Owner[],
  items: readonly Item[],
  by: GroupedBy | undefined,
  set: UvSetId,
): Groups | null {
  if (!by || by === "nothing") return null;
  if (by === "density ratio") return groupsByRatio(ratiosOf(asset, work, owners, set));
  const nameOf = by === "likeness" ? likeness(work, owners) : namer(asset, work, by);
  const byItem = new Map<number, string>();
  owners.forEach((owner, k) => {
    if (!byItem.has(owner.item)) byItem.set(owner.item, nameOf(owner, k));
  });
  const areas = new Map<string, number>();
  items.forEach((item, i) => {
    const { u0, v0, u1, v1 } = boundsOf(item);
    const name = byItem.get(i)!;
    areas.set(name, (areas.get(name) ?? 0) + (u1 - u0) * (v1 - v0));
  });
  const names = [...areas.keys()].sort((a, b) => areas.get(b)! - areas.get(a)! || (a < b ? -1 : 1));
  return { of: items.map((_, i) => names.indexOf(byItem.get(i)!)), names };
}

/** How dense items are to be by what is common: the highest of those that are packed as one. */
export function ratiosOf(asset: Asset, work: readonly PackWork[], owners: readonly Owner[], set: UvSetId): number[] {
  const out: number[] = [];
  for (const { work: i, shell, item } of owners) {
    const { shape, layout } = work[i]!;
    const face = shellName(structureOf(shape.mesh, layout), shell);
    out[item] = Math.max(out[item] ?? 0, ratioOf(asset, set, { shape: shape.id, face }));
  }
  return out;
}

/** Those of one ratio together, the highest first. */
function groupsByRatio(ratios: readonly number[]): Groups {
  const all = [...new Set(ratios)].sort((a, b) => b - a);
  return { of: ratios.map((ratio) => all.indexOf(ratio)), names: all.map((ratio) => `density ratio ${ratio}`) };
}

type Namer = (owner: Owner, place: number) => string;

function namer(asset: Asset, work: readonly PackWork[], by: GroupedBy): Namer {
  if (by === "named selection") return inSelections(asset, work);
  return ({ work: i, shell, wedges }) => {
    const { shape, layout } = work[i]!;
    if (by === "part") return shape.parts[0]!.name;
    if (by === "group of parts") return partById(asset, shape.parts[0]!.id).path.join(" / ") || OTHERS;
    if (by === "material") {
      const face = facesOfShell(structureOf(shape.mesh, layout), shell)[0]!;
      return asset.materials[shape.mesh.faceMaterial[face]!]?.name || OTHERS;
    }
    // The tile that its middle lies in.
    let [u, v] = [0, 0];
    for (const w of wedges) {
      u += layout.uv[2 * w]!;
      v += layout.uv[2 * w + 1]!;
    }
    return String(tileAt(u / wedges.length, v / wedges.length) ?? OTHERS);
  };
}

/** Shells by the first named selection that any of their faces belongs to. */
function inSelections(asset: Asset, work: readonly PackWork[]): Namer {
  const byWork = work.map(({ shape, layout }) => {
    const { mesh } = shape;
    const names: Array<string | undefined> = new Array(faceCount(mesh));
    for (const { name, kind, shapes } of asset.selections)
      for (const own of shapes.filter((s) => s.shape === shape.id)) {
        const picked = flagsAt(itemsOfRuns(own.runs, elementCount(mesh, kind)), elementCount(mesh, kind));
        const faces = kind === "faces" ? picked : converted(mesh, layout, kind, picked, "faces", "touching");
        for (let f = 0; f < names.length; f++) if (faces[f]) names[f] ??= name;
      }
    return names;
  });
  return ({ work: i, shell }) => {
    const { shape, layout } = work[i]!;
    for (const f of facesOfShell(structureOf(shape.mesh, layout), shell)) {
      const name = byWork[i]![f];
      if (name) return name;
    }
    return OTHERS;
  };
}

/** How far lengths may differ in shells that are alike. */
const WITHIN = 0.005;

/** Shells that are the same form, whatever they lie on. */
function likeness(work: readonly PackWork[], owners: readonly Owner[]): Namer {
  const twins = asTwins(
    owners.map(({ work: i, shell, wedges }) => {
      const { shape, layout } = work[i]!;
      const face = shellName(structureOf(shape.mesh, layout), shell);
      const uv = new Float64Array(2 * wedges.length);
      return { shape, layout, shell, face, wedges, uv, box: { u0: 0, v0: 0, u1: 0, v1: 0 } };
    }),
  );
  const firsts: number[] = [];
  const names = twins.map((twin, k) => {
    const first = firsts.find((f) => twinMatch(twin, twins[f]!, WITHIN, AS_THEY_ARE));
    if (first === undefined) firsts.push(k);
    const like = first ?? k;
    const { shape } = work[owners[like]!.work]!;
    return `as ${shape.parts[0]!.name} ${firsts.indexOf(like) + 1}`;
  });
  return (_, place) => names[place]!;
}
