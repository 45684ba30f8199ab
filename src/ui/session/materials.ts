import { type Asset, shapesOf } from "@/core/layout/asset";
import { ElementSet } from "@/core/select/element-set";
import { type Bench, EMPTY, type Picked } from "./store";

/** A material as the list shows it: files may have several of one name. */
export interface MaterialLine {
  readonly name: string;
  /** Base colour, linear RGB. */
  readonly color: readonly [number, number, number];
  readonly faces: number;
}

/** The materials of an asset that some face has, by name. */
export function materialLines(asset: Asset): MaterialLine[] {
  const counts = new Uint32Array(asset.materials.length);
  for (const { mesh } of shapesOf(asset)) for (const m of mesh.faceMaterial) if (m < counts.length) counts[m]!++;
  const lines = new Map<string, MaterialLine>();
  asset.materials.forEach(({ name, color }, m) => {
    const known = lines.get(name);
    if (counts[m]) lines.set(name, { name, color: known?.color ?? color, faces: (known?.faces ?? 0) + counts[m]! });
  });
  return [...lines.values()];
}

/** The faces of every shape that are of no hidden material; null where none is hidden. */
export function shownByMaterial(asset: Asset, hidden: ReadonlySet<string>): Picked | null {
  if (!hidden.size) return null;
  const gone = new Set(asset.materials.flatMap(({ name }, m) => (hidden.has(name) ? [m] : [])));
  return new Map(
    shapesOf(asset).map(({ id, mesh }) => {
      const flags = Uint8Array.from(mesh.faceMaterial, (m) => (gone.has(m) ? 0 : 1));
      return [id, ElementSet.flagged(flags)] as const;
    }),
  );
}

/** Hides the faces of a material, or shows them again; what is picked is let go, and faces that were isolated are no more. */
export function toggleMaterial(bench: Bench, name: string): void {
  const { asset, hiddenMaterials } = bench.getState();
  if (!asset) return;
  const next = new Set(hiddenMaterials);
  if (!next.delete(name)) next.add(name);
  bench.setState({ hiddenMaterials: next, alone: shownByMaterial(asset, next), picked: EMPTY, rows: new Set() });
}
