import { measure } from "@/core/check/measure";
import { type Asset, layoutParts, type Unit } from "@/core/layout/asset";
import { hasPoints } from "@/core/layout/shell-points";
import { transformPoints } from "@/core/mesh/transform";
import type { ReadFile } from "./protocol";

/** What a person is told of a file before it is put on the table. */
export function describeRead(asset: Asset): ReadFile {
  const faces = layoutParts(asset).reduce((n, p) => n + p.mesh.faceStart.length - 1, 0);
  const laid = layoutParts(asset).some((p) => p.uvSets[0] && hasPoints(p.mesh, p.uvSets[0]));
  const extent = extentOf(asset);
  return {
    name: asset.name,
    parts: asset.parts.length,
    faces,
    extent,
    unit: guessedUnit(asset, extent),
    layout: laid ? layoutFigures(asset) : null,
    images: asset.images.length,
  };
}

/** Stretch takes a while on large meshes: there the count of shells has to do. */
const MOST_MEASURED = 200_000;

function layoutFigures(asset: Asset): { shells: number; stretch: number | null } {
  const faces = layoutParts(asset).reduce((n, p) => n + p.mesh.faceStart.length - 1, 0);
  const m = measure(asset, 512, 0);
  return { shells: m.shells, stretch: faces <= MOST_MEASURED ? (m.symmetricDirichlet ?? null) : null };
}

/** Longest side of the box around all parts, in the file's own numbers. */
function extentOf(asset: Asset): number {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (const part of asset.parts) {
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
