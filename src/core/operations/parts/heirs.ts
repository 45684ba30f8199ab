import type { Asset, Part, PartId } from "../../layout/asset";

/** Parts that are left when others go: where an instance has lost the part it repeats, the first of them takes its place. */
export function heirs(asset: Asset, left: readonly Part[]): Part[] {
  const there = new Set(left.map((p) => p.id));
  const heir = new Map<PartId, PartId>();
  return left.map((part): Part => {
    const { instanceOf, ...rest } = part;
    if (instanceOf === undefined || there.has(instanceOf)) return part;
    const next = heir.get(instanceOf);
    if (next !== undefined) return { ...part, instanceOf: next };
    heir.set(instanceOf, part.id);
    const owner = asset.parts.find((p) => p.id === instanceOf)!;
    return { ...rest, mesh: owner.mesh, uvSets: owner.uvSets };
  });
}
