import { type Asset, type Part, type PartId, shapeOf } from "@/core/layout/asset";

/** A row of the parts list: a group's heading, or a part. */
export type PartRow =
  | {
      readonly type: "group";
      readonly key: string;
      readonly name: string;
      readonly depth: number;
      readonly parts: readonly Part[];
    }
  | { readonly type: "part"; readonly key: string; readonly part: Part; readonly depth: number };

interface Group {
  readonly groups: Map<string, Group>;
  readonly parts: Part[];
}

/**
 * The rows of the list, in the order of the parts: groups first at every depth, folded ones without what they hold.
 *
 * @param folded keys of folded groups
 * @param search part of a name, of a group's or of a material's; empty for all
 */
export function partRows(asset: Asset, folded: ReadonlySet<string>, search: string): PartRow[] {
  const wanted = search.trim().toLowerCase();
  const root: Group = { groups: new Map(), parts: [] };
  for (const part of matching(asset, wanted)) {
    let at = root;
    for (const name of part.path) {
      let next = at.groups.get(name);
      if (!next) {
        next = { groups: new Map(), parts: [] };
        at.groups.set(name, next);
      }
      at = next;
    }
    at.parts.push(part);
  }
  const out: PartRow[] = [];
  const visit = (group: Group, key: string, depth: number) => {
    for (const [name, inner] of group.groups) {
      const own = `${key}/${name}`;
      out.push({ type: "group", key: own, name, depth, parts: allParts(inner) });
      // A search shows what it found, folded or not.
      if (wanted || !folded.has(own)) visit(inner, own, depth + 1);
    }
    for (const part of group.parts) out.push({ type: "part", key: part.id, part, depth });
  };
  visit(root, "", 0);
  return out;
}

const allParts = (group: Group): Part[] => [...[...group.groups.values()].flatMap(allParts), ...group.parts];

function matching(asset: Asset, wanted: string): readonly Part[] {
  if (!wanted) return asset.parts;
  const materials = new Set(asset.materials.flatMap((m, i) => (m.name.toLowerCase().includes(wanted) ? [i] : [])));
  return asset.parts.filter(
    (p) =>
      p.name.toLowerCase().includes(wanted) ||
      p.path.some((g) => g.toLowerCase().includes(wanted)) ||
      (materials.size > 0 && shapeOf(asset, p).mesh.faceMaterial.some((m) => materials.has(m))),
  );
}

/** Parts from one row to another, both included, as Shift picks them. */
export function rowsBetween(rows: readonly PartRow[], from: PartId, to: PartId): PartId[] {
  const parts = rows.flatMap((r) => (r.type === "part" ? [r.part.id] : []));
  const [a, b] = [parts.indexOf(from), parts.indexOf(to)];
  return a < 0 || b < 0 ? [to] : parts.slice(Math.min(a, b), Math.max(a, b) + 1);
}
