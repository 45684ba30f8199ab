import { iota } from "../numeric/iota";
import type { Form } from "./form";

/** Rings that a form's profile is told by at the most. */
const MOST = 256;
/** Radians: vertices that are nearer lie on one ring. */
const SAME = 1e-4;

/**
 * The length from the pole to every vertex along the profile of a form that turns about its axis: vertices at one angle
 * from the pole are a ring, and the profile goes through the mean of each.
 *
 * @param angle from the pole, by vertex @returns by vertex; only those of the form's faces are set
 */
export function profileLengths(form: Form, angle: Float64Array): Float64Array {
  const { mesh, points, faces } = form;
  const used = new Uint8Array(angle.length);
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) used[mesh.cornerVertex[c]!] = 1;
  const list = iota(used.length).filter((v) => used[v]);
  const starts = ringStarts(list, angle);
  const rings = starts.map((): Ring => ({ angle: 0, off: 0, height: 0, count: 0, length: 0 }));
  for (const v of list) {
    const ring = rings[last(starts, angle[v]!)]!;
    const x = points[3 * v]!;
    const y = points[3 * v + 1]!;
    ring.angle += angle[v]!;
    ring.off += Math.sqrt(x * x + y * y);
    ring.height += points[3 * v + 2]!;
    ring.count++;
  }
  for (const ring of rings) for (const key of ["angle", "off", "height"] as const) ring[key] /= ring.count;
  // From the pole to the first ring straight across.
  rings[0]!.length = rings[0]!.off;
  for (let i = 1; i < rings.length; i++) {
    const [a, b] = [rings[i - 1]!, rings[i]!];
    b.length = a.length + Math.sqrt((b.off - a.off) ** 2 + (b.height - a.height) ** 2);
  }
  const out = new Float64Array(points.length / 3);
  const middles = rings.map((ring) => ring.angle);
  for (const v of list) {
    const i = last(middles, angle[v]!);
    const [a, b] = [rings[i]!, rings[Math.min(i + 1, rings.length - 1)]!];
    const share = b.angle > a.angle ? Math.max(0, (angle[v]! - a.angle) / (b.angle - a.angle)) : 0;
    out[v] = a.length + share * (b.length - a.length);
  }
  return out;
}

/** The least angle of every ring, ascending. */
function ringStarts(vertices: Uint32Array, angle: Float64Array): number[] {
  const angles = Float64Array.from(vertices, (v) => angle[v]!).sort();
  const span = (angles.at(-1)! - angles[0]!) / MOST;
  // Wider than all vertices at one angle only where there are too many of those.
  const wide = angles.length > MOST ? Math.max(SAME, span) : SAME;
  const starts: number[] = [angles[0]!];
  for (const at of angles) if (at - starts.at(-1)! > wide) starts.push(at);
  return starts;
}

/** The place of the last entry of an ascending list that is not above a value; 0 where all are. */
function last(list: readonly number[], value: number): number {
  let [low, high] = [0, list.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (list[middle]! <= value) low = middle;
    else high = middle - 1;
  }
  return low;
}

interface Ring {
  angle: number;
  off: number;
  height: number;
  count: number;
  length: number;
}
