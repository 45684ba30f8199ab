import type { PlacedShape } from "../layout/asset";
import { Derived } from "../mesh/derived";
import type { Edge } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { worldPositions } from "../mesh/transform";
import { TurnSearch } from "../mesh/turn-search";
import { edgePath, pathsFromEdge, vertexGraph } from "../mesh/walks";
import { PathSearch } from "../numeric/heap";
import { edgeAngles, edgeLengths, edgesSeen } from "./edge-cost";

/** What a path along edges keeps to. */
export const PATH_WAYS = ["shortest", "creased", "straight", "hidden"] as const;
export type PathWay = (typeof PATH_WAYS)[number];

/** What of its length an edge counts for where it is as creased, or as hidden, as can be. */
const LEAST = 0.1;
/** An edge bent this far is a crease, radians. */
const CREASE = Math.PI / 3;

/** Paths from a vertex, found as far as they are asked for. */
export interface PathsFrom {
  /** Edges of the path to a vertex, from the source on; null where none leads there. */
  linksTo(vertex: number): number[] | null;
  /** Goes on by so many steps, for paths that will be asked for. @returns whether there is more to be found */
  goOn(steps: number): boolean;
}

/**
 * The paths from a vertex: shortest, along creases, with the fewest turns, or where they are seen least.
 *
 * @param seen how openly each face is seen, 0 to 1; asked for by `hidden` alone
 */
export function pathsFrom(shape: PlacedShape, way: PathWay, vertex: number, seen?: Float32Array): PathsFrom {
  const { mesh } = shape;
  const world = worldPositions(mesh, shape.metric);
  const cost = edgeLengths(mesh, world);
  if (way === "straight") return new TurnSearch(mesh, world, cost, vertex);
  if (way === "creased") {
    const angles = edgeAngles(mesh, world);
    for (let e = 0; e < cost.length; e++) cost[e]! *= 1 - (1 - LEAST) * Math.min(1, angles[e]! / CREASE);
  }
  if (way === "hidden" && seen) {
    const open = edgesSeen(topologyOf(mesh), seen);
    for (let e = 0; e < cost.length; e++) cost[e]! *= LEAST + (1 - LEAST) * open[e]!;
  }
  return new PathSearch(vertexGraph(mesh), cost, [vertex]);
}

/** The paths asked for last, by mesh: under the pointer they are asked for from the same edge again and again. */
const lastPaths = new Derived<PolyMesh, { metric: PlacedShape["metric"]; from: Edge; search: PathSearch }>("paths");

/** Edges of the shortest path from one edge of a shape to another, both included; only the second where none leads. */
export function pathBetweenEdges({ mesh, metric }: PlacedShape, from: Edge, to: Edge): Uint32Array {
  let last = lastPaths.get(mesh);
  if (last?.from !== from || last.metric !== metric) {
    const search = pathsFromEdge(mesh, edgeLengths(mesh, worldPositions(mesh, metric)), from);
    last = { metric, from, search };
    lastPaths.set(mesh, last);
  }
  return edgePath(mesh, last.search, from, to);
}
