import type { Asset, ShapeId } from "../layout/asset";
import { ALL_DIRECTIONS, directionWeights, openness, viewedParts } from "../seams/visibility";
import type { Context } from "./context";
import { spread } from "./spread";

/** Groups of directions, however many workers there are: sums are rounded alike on every machine. */
const GROUPS = 4;

/** How openly every face is seen, by shape, 0 to 1: groups of directions on the workers. */
export async function seenFaces(
  asset: Asset,
  context: Context,
  progress: (share: number) => void,
): Promise<ReadonlyMap<ShapeId, Float32Array>> {
  if (context.seen) return context.seen(asset, context);
  const [parts, weights] = [viewedParts(asset), directionWeights(asset)];
  const inputs = Array.from({ length: GROUPS }, (_, i) => ({
    parts,
    weights,
    directions: ALL_DIRECTIONS.filter((d) => d % GROUPS === i),
  }));
  const sums = await spread(
    "visibleFrom",
    inputs,
    inputs.map((i) => i.directions.length),
    context,
    progress,
  );
  const [first, ...others] = sums as [Float32Array[], ...Float32Array[][]];
  const total = first.map((own, part) => own.map((x, f) => others.reduce((sum, other) => sum + other[part]![f]!, x)));
  return openness(asset, total);
}
