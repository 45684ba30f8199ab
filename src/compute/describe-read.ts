import { measure } from "@/core/check/measure";
import { type Asset, drawnParts, facesOf, shapesOf, type Unit } from "@/core/layout/asset";
import { hasPoints } from "@/core/layout/shell-points";
import { transformPoints } from "@/core/mesh/transform";

/** What a file was found to hold; the asset itself stays with the worker until it is wanted. */
export interface ReadFile {
  readonly name: string;
  readonly parts: number;
  readonly faces: number;
  readonly extent: number;
  readonly unit: Unit;
  /** Shells and stretch of the layout that came with it; null when it has none. */
  readonly layout: { readonly shells: number; readonly stretch: number | null } | null;
  readonly images: number;
}

/** What is shown of a file before it is brought in. */
export function describeRead(asset: Asset): ReadFile {
  const hasLayout = shapesOf(asset).some((s) => {
    const layout = s.layouts.get(asset.sets[0]!.id);
    return layout !== undefined && hasPoints(s.mesh, layout);
  });
  const extent = extentOf(asset);
  return {
    name: asset.name,
    parts: asset.parts.length,
    faces: facesOf(asset),
    extent,
    unit: guessedUnit(asset, extent),
    layout: hasLayout ? layoutFigures(asset) : null,
    images: asset.images.length,
  };
}

/** Stretch takes a while on large meshes: there the count of shells has to do. */
const MOST_MEASURED = 200_000;

function layoutFigures(asset: Asset): { shells: number; stretch: number | null } {
  const m = measure(asset, 512);
  return { shells: m.shells, stretch: facesOf(asset) <= MOST_MEASURED ? (m.symmetricDirichlet ?? null) : null };
}

/** Longest side of the box around all parts, in the file's own numbers. */
function extentOf(asset: Asset): number {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (const part of drawnParts(asset)) {
    const p = transformPoints(part.transform, part.mesh.positions);
    for (let i = 0; i < p.length; i++) {
      low[i % 3] = Math.min(low[i % 3]!, p[i]!);
      high[i % 3] = Math.max(high[i % 3]!, p[i]!);
    }
  }
  return Math.max(...low.map((x, d) => high[d]! - x));
}

/** Metres where the format says so; else what makes the thing the size of a thing. */
function guessedUnit(asset: Asset, extent: number): Unit {
  if (asset.source.format === "glb" || asset.source.format === "gltf") return "m";
  return extent > 500 ? "mm" : extent > 8 ? "cm" : "m";
}
