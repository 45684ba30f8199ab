import type { Asset, ShapeId, UvSetId } from "../layout/asset";
import { shapesOf } from "../layout/asset";
import { getBit } from "../layout/bits";
import { emptyLayout } from "../layout/layout";
import type { Edge } from "../mesh/indices";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { worldPositions } from "../mesh/transform";
import { edgeAngles, edgeLengths, edgesSeen } from "./edge-cost";
import { flowFigures } from "./flow";
import { faceAreas } from "./seam-field";

/** What the seams of a layout come to, over all shapes. */
export interface SeamFigures {
  /** World length of all seams. */
  readonly length: number;
  /** The same, each edge by how openly it is seen. */
  readonly visible: number;
  /** World area. */
  readonly area: number;
  /** The share of their length along whole runs of the flow, creases or borders of materials, 0 to 1. */
  readonly along: number;
  /** Where they turn off the flow or stop on it. */
  readonly turns: number;
}

/** @param seen how openly faces are seen, by shape, 0 to 1 */
export function seamFigures(asset: Asset, set: UvSetId, seen: ReadonlyMap<ShapeId, Float32Array>): SeamFigures {
  let [length, visible, area, along, turns] = [0, 0, 0, 0, 0];
  for (const shape of shapesOf(asset)) {
    const { mesh } = shape;
    const t = topologyOf(mesh);
    const world = worldPositions(mesh, shape.metric);
    const { cut } = shape.layouts.get(set) ?? emptyLayout(mesh);
    const lengths = edgeLengths(mesh, world);
    const openness = edgesSeen(t, seen.get(shape.id)!);
    let own = 0;
    for (let e = 0 as Edge; e < t.edgeCount; e++) {
      if (!getBit(cut, e) || edgeFaceCount(t, e) !== 2) continue;
      own += lengths[e]!;
      visible += lengths[e]! * openness[e]!;
    }
    const flow = flowFigures(mesh, cut, lengths, edgeAngles(mesh, world));
    length += own;
    along += own * flow.along;
    turns += flow.turns;
    for (const a of faceAreas({ mesh, world })) area += a;
  }
  return { length, visible, area, along: length ? along / length : 1, turns };
}
