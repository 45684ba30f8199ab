import type { Form } from "./form";

/** Rings that a form's profile is told by at the most. */
const MOST = 256;
/** Radians: vertices that are nearer lie on one ring. */
const SAME = 1e-4;

/**
 * The length from the pole to every vertex along the profile of a form that turns about its axis: vertices at one angle
 * from the pole are a ring, and the profile goes through the mean of each.
 *
 * @param angle from the pole, of a place in the list of points @returns by vertex; only those of the form's faces are set
 */
export function profileLengths({ mesh, points, faces }: Form, angle: (point: number) => number): Float64Array {
  const vertices = new Set<number>();
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) vertices.add(mesh.cornerVertex[c]!);
  const list = [...vertices].map((v) => ({ v, angle: angle(3 * v) })).sort((a, b) => a.angle - b.angle || a.v - b.v);
  const span = (list.at(-1)!.angle - list[0]!.angle) / MOST;
  const rings: Ring[] = [];
  for (const { v, angle: at } of list) {
    const off = Math.sqrt(points[3 * v]! ** 2 + points[3 * v + 1]! ** 2);
    const last = rings.at(-1);
    // Wider than all vertices at one angle only where there are too many of those.
    if (last && at - last.first <= (list.length > MOST ? Math.max(SAME, span) : SAME)) {
      last.angle += (at - last.angle) / ++last.count;
      last.off += (off - last.off) / last.count;
      last.height += (points[3 * v + 2]! - last.height) / last.count;
    } else rings.push({ first: at, angle: at, off, height: points[3 * v + 2]!, count: 1, length: 0 });
  }
  // From the pole to the first ring straight across.
  rings[0]!.length = rings[0]!.off;
  for (let i = 1; i < rings.length; i++) {
    const [a, b] = [rings[i - 1]!, rings[i]!];
    b.length = a.length + Math.sqrt((b.off - a.off) ** 2 + (b.height - a.height) ** 2);
  }
  const out = new Float64Array(points.length / 3);
  let i = 0;
  for (const { v, angle: at } of list) {
    while (i + 1 < rings.length && rings[i + 1]!.angle <= at) i++;
    const [a, b] = [rings[i]!, rings[Math.min(i + 1, rings.length - 1)]!];
    const share = b.angle > a.angle ? Math.max(0, (at - a.angle) / (b.angle - a.angle)) : 0;
    out[v] = a.length + share * (b.length - a.length);
  }
  return out;
}

interface Ring {
  readonly first: number;
  angle: number;
  off: number;
  height: number;
  count: number;
  length: number;
}
