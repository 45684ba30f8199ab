import { partById, shapeById } from "@/core/layout/asset";
import { transformPoints } from "@/core/mesh/transform";
import { writeVectorArea } from "@/core/mesh/vector-area";
import { pointToSegment } from "@/core/numeric/segments";
import { unit, type Vector } from "@/core/project/frame";
import type { BenchSession } from "../session/bench-session";
import type { Stage } from "../stage/stage";

/** Pixels within which an edge is meant, and not the face that it lies on. */
const ON_EDGE = 8;

/** The way of the edge at a point of Form, or of the normal of the face seen there; null over nothing. @param x, y pixels of the pane */
export function wayUnder({ bench }: BenchSession, stage: Stage, x: number, y: number): Vector | null {
  const { asset } = bench.getState();
  const seen = stage.faceAt("form", x, y);
  if (!asset || !seen) return null;
  const part = partById(asset, seen.part);
  const { mesh } = shapeById(asset, part.shape);
  const [from, to] = [mesh.faceStart[seen.face]!, mesh.faceStart[seen.face + 1]!];
  const vertices = mesh.cornerVertex.subarray(from, to);
  const own = Float64Array.from([...vertices].flatMap((v) => [...mesh.positions.subarray(3 * v, 3 * v + 3)]));
  const world = transformPoints(part.transform, own);
  const m = stage.pixelMatrix("form");
  const pixel = (k: number): [number, number] => {
    const [a, b, c] = [world[3 * k]!, world[3 * k + 1]!, world[3 * k + 2]!];
    const w = m[3]! * a + m[7]! * b + m[11]! * c + m[15]!;
    return [(m[0]! * a + m[4]! * b + m[8]! * c + m[12]!) / w, (m[1]! * a + m[5]! * b + m[9]! * c + m[13]!) / w];
  };
  let [edge, least] = [-1, ON_EDGE];
  for (let k = 0; k < vertices.length; k++) {
    const off = pointToSegment(x, y, ...pixel(k), ...pixel((k + 1) % vertices.length));
    if (off < least) [edge, least] = [k, off];
  }
  if (edge >= 0) {
    const [p, q] = [3 * edge, 3 * ((edge + 1) % vertices.length)];
    return unit([world[q]! - world[p]!, world[q + 1]! - world[p + 1]!, world[q + 2]! - world[p + 2]!]);
  }
  const area = new Float64Array(3);
  writeVectorArea(world, Uint32Array.from(vertices.keys()), 0, vertices.length, area);
  return unit([area[0]!, area[1]!, area[2]!]);
}
