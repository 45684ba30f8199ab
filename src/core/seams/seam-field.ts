import type { Edge } from "../mesh/indices";
import { faceCount, vertexCount } from "../mesh/poly-mesh";
import { edgeFaceCount } from "../mesh/topology";
import { writeVectorArea } from "../mesh/vector-area";
import { vertexGraph } from "../mesh/walks";
import type { Graph } from "../numeric/heap";
import { length3 } from "../numeric/length";
import { edgeAngles, edgeLengths } from "./edge-cost";
import { straightEdges } from "./flow";
import type { Source } from "./piece";

/** A part's mesh with what moving seams about on it needs besides. */
export interface SeamField extends Source {
  readonly length: Float64Array;
  /** Radians. */
  readonly angle: Float64Array;
  /** 2 per edge: what goes straight on at its ends, or -1. */
  readonly straight: Int32Array;
  /** What a seam along each edge weighs when seams are to be short: its length, less where it hides or follows a crease. */
  readonly weight: Float64Array;
  readonly graph: Graph;
  /** 1 for vertices at edges without exactly two faces. */
  readonly onBorder: Uint8Array;
  /** World area of every face. */
  readonly faceArea: Float64Array;
  readonly area: number;
}

/** Of a seam's length: what counts wherever it lies. The rest counts as much as it costs by where it lies. */
const PLAIN = 0.25;

export function seamField(source: Source): SeamField {
  const { mesh, world, topology: t, cost } = source;
  const length = edgeLengths(mesh, world);
  const onBorder = new Uint8Array(vertexCount(mesh));
  for (let e = 0 as Edge; e < t.edgeCount; e++)
    if (edgeFaceCount(t, e) !== 2) for (const k of [0, 1]) onBorder[t.edgeVertices[2 * e + k]!] = 1;
  const faceArea = faceAreas(source);
  return {
    ...source,
    length,
    angle: edgeAngles(mesh, world),
    straight: straightEdges(mesh),
    weight: length.map((l, e) => PLAIN * l + (1 - PLAIN) * cost[e]!),
    graph: vertexGraph(mesh),
    onBorder,
    faceArea,
    area: faceArea.reduce((sum, a) => sum + a, 0),
  };
}

/** World area of every face, of bent ones that of their outline as it faces. */
export function faceAreas({ mesh, world }: Pick<Source, "mesh" | "world">): Float64Array {
  const area = new Float64Array(3);
  return Float64Array.from({ length: faceCount(mesh) }, (_, f) => {
    writeVectorArea(world, mesh.cornerVertex, mesh.faceStart[f]!, mesh.faceStart[f + 1]!, area);
    return length3(area[0]!, area[1]!, area[2]!) / 2;
  });
}

/** World area of some faces. */
export const areaOf = ({ faceArea }: Pick<SeamField, "faceArea">, faces: Uint32Array): number =>
  faces.reduce((sum, f) => sum + faceArea[f]!, 0);
