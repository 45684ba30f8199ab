import type { PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { length3 } from "../numeric/length";
import { dot, unit, type Vector } from "./frame";
import { middleOf } from "./suggest";

/**
 * What a seam along an edge weighs: its length, more where it is seen and hardly anything on the side away from who looks.
 *
 * @param mesh with its vertices in world space @param back away from who looks, unit
 */
export function hiddenWeight(
  mesh: PolyMesh,
  back: Vector,
  middle = middleOf(mesh.positions).middle,
): (edge: number) => number {
  const { edgeVertices } = topologyOf(mesh);
  const world = mesh.positions;
  return (e) => {
    const [p, q] = [3 * edgeVertices[2 * e]!, 3 * edgeVertices[2 * e + 1]!];
    const mean = (d: number) => (world[p + d]! + world[q + d]!) / 2 - middle[d]!;
    const length = length3(world[q]! - world[p]!, world[q + 1]! - world[p + 1]!, world[q + 2]! - world[p + 2]!);
    return length * (1.01 - dot(unit([mean(0), mean(1), mean(2)]), back));
  };
}
