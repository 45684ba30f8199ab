import type { Asset, PlacedShape } from "../../layout/asset";
import { type Layout, structureOf } from "../../layout/layout";
import { worldPositions } from "../../mesh/transform";
import type { Stand } from "../../place/rows";

/** Where a shell stands on the model, looked at from the front: the middle of its points. */
export function standOf(asset: Asset, { mesh, metric }: PlacedShape, layout: Layout, wedges: Uint32Array): Stand {
  const world = worldPositions(mesh, metric);
  const { wedgeVertex } = structureOf(mesh, layout);
  const mean = (d: number) => {
    let sum = 0;
    for (const w of wedges) sum += world[3 * wedgeVertex[w]! + d]!;
    return sum / wedges.length;
  };
  return [mean(0), mean(asset.up === "y" ? 1 : 2)];
}
