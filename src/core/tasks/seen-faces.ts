import type { Asset, ShapeId } from "../layout/asset";
import type { Context } from "../operations/operation";
import { ALL_DIRECTIONS, openness, upAxisOf, viewedParts } from "../seams/visibility";
import { spread } from "./spread";

/** Looking along fewer directions than this at a time costs more in sending than it saves. */
const AT_LEAST = 4;

/** How openly every face is seen, by shape, 0 to 1: some directions on each worker. */
export async function seenFaces(
  asset: Asset,
  context: Context,
  progress: (share: number) => void,
): Promise<Map<ShapeId, Float32Array>> {
  const [parts, up] = [viewedParts(asset), upAxisOf(asset)];
  const width = Math.min(context.pool?.width ?? 1, Math.floor(ALL_DIRECTIONS.length / AT_LEAST));
  const inputs = Array.from({ length: width }, (_, i) => ({
    parts,
    up,
    directions: ALL_DIRECTIONS.filter((d) => d % width === i),
  }));
  const sums = await spread(
    "visibleFrom",
    inputs,
    inputs.map((i) => i.directions.length),
    context,
    progress,
  );
  const [first, ...others] = sums as [Float32Array[], ...Float32Array[][]];
  // The sums of the others are added in their order, so that the same asset gives the same costs on any machine.
  const total = first.map((own, part) => own.map((x, f) => others.reduce((sum, other) => sum + other[part]![f]!, x)));
  return openness(asset, total);
}
