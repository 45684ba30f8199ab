import { z } from "zod";
import type { Asset, PlacedShape } from "../../layout/asset";
import { topologyOf } from "../../mesh/topology";
import { worldPositions } from "../../mesh/transform";
import { leastDistance, nearPairs } from "../../prepare/near-points";
import type { Scope } from "../operation";
import { shapesInScope } from "../scope";

export const doubledOptions = z.object({
  distance: z
    .number()
    .min(0)
    .default(0)
    .meta({ title: "Distance", description: "Vertices no farther apart than this, in the asset's unit", unit: "unit" }),
});

export interface Doubled {
  readonly shape: PlacedShape;
  readonly pairs: number[];
  /** The least distance between vertices beyond it that do not share an edge; null when that was not asked for. */
  readonly unrelated: number | null;
}

/** Pairs of vertices within a distance, in world lengths, by part. */
export function doubledPairs(asset: Asset, scope: Scope, distance: number): Doubled[] {
  return shapesInScope(asset, scope).map((shape) => {
    const world = worldPositions(shape.mesh, shape.metric);
    const { pairs } = nearPairs(world, distance);
    return { shape, pairs, unrelated: null };
  });
}

/** Beside the pairs, how near the nearest vertices come that are none. */
export function withUnrelated(found: readonly Doubled[], distance: number): Doubled[] {
  return found.map(({ shape, pairs }) => {
    const world = worldPositions(shape.mesh, shape.metric);
    const t = topologyOf(shape.mesh);
    const linked = new Set<number>();
    const lengths = new Float64Array(t.edgeCount);
    const n = world.length / 3;
    for (let e = 0; e < t.edgeCount; e++) {
      const [a, b] = [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!];
      linked.add(Math.min(a, b) * n + Math.max(a, b));
      lengths[e] = Math.hypot(
        world[3 * a]! - world[3 * b]!,
        world[3 * a + 1]! - world[3 * b + 1]!,
        world[3 * a + 2]! - world[3 * b + 2]!,
      );
    }
    let extent = 0;
    for (let d = 0; d < 3; d++) {
      let [low, high] = [Infinity, -Infinity];
      for (let i = d; i < world.length; i += 3) {
        low = Math.min(low, world[i]!);
        high = Math.max(high, world[i]!);
      }
      extent = Math.max(extent, high - low);
    }
    // Half the length of short edges: the search need not begin with cells that hold one vertex each.
    const short = lengths.length ? lengths.sort()[Math.floor(lengths.length / 100)]! / 2 : 0;
    const related = (a: number, b: number) => linked.has(Math.min(a, b) * n + Math.max(a, b));
    return { shape, pairs, unrelated: leastDistance(world, distance, related, extent || 1, short) };
  });
}
