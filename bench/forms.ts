import { signedArea } from "../src/core/unfold/area";
import type { ShellMesh } from "../src/core/unfold/shell-mesh";

// Disks that unfolding is measured on: easy ones and hard ones, of any number of triangles.

type Place = readonly [number, number, number];

/** A sheet of so many triangles about, lifted into space. */
export function sheet(triangles: number, lift: (u: number, v: number) => Place): ShellMesh {
  const n = Math.round(Math.sqrt(triangles / 2));
  const positions = new Float64Array(3 * (n + 1) * (n + 1));
  const list = new Uint32Array(6 * n * n);
  for (let j = 0; j <= n; j++) for (let i = 0; i <= n; i++) positions.set(lift(i / n, j / n), 3 * (j * (n + 1) + i));
  for (let j = 0, at = 0; j < n; j++)
    for (let i = 0; i < n; i++, at += 6) {
      const a = j * (n + 1) + i;
      list.set([a, a + 1, a + n + 2, a, a + n + 2, a + n + 1], at);
    }
  return { positions, triangles: list, wedges: new Uint32Array((n + 1) * (n + 1)) };
}

/** Ways in which limbs stand out of a round body. */
const LIMBS: readonly Place[] = [
  [0.8, 0.2, 0.56],
  [-0.8, 0.2, 0.56],
  [0.5, -0.7, 0.5],
  [-0.5, -0.7, 0.5],
  [0, 0.95, -0.3],
];
function body(x: number, y: number, z: number, length: number): Place {
  let r = 1 + 0.05 * Math.sin(9 * x) * Math.cos(8 * y + z);
  for (const [a, b, c] of LIMBS) r += length * Math.exp(-14 * (1 - (a * x + b * y + c * z)));
  return [r * x, r * y, r * z];
}

/** A round body on a sheet that closes all but a small hole. */
function closedUp(u: number, v: number, length: number): Place {
  const [p, q] = [2 * u - 1, 2 * v - 1];
  const r = Math.max(Math.abs(p), Math.abs(q));
  const d = Math.hypot(p, q) || 1;
  const polar = r * (Math.PI - 0.35);
  return body((p / d) * Math.sin(polar), (q / d) * Math.sin(polar), Math.cos(polar), length);
}

export const FORMS: Readonly<Record<string, (u: number, v: number) => Place>> = {
  cloth: (u, v) => [u, v, 0.08 * Math.sin(11 * u + 3 * v) + 0.05 * Math.sin(17 * v - 4 * u * u)],
  "body, cut open by one path": (u, v) => {
    const [a, b] = [2 * Math.PI * u, 0.06 + (Math.PI - 0.12) * v];
    return body(Math.cos(a) * Math.sin(b), Math.sin(a) * Math.sin(b), Math.cos(b), 0.5);
  },
  "form with limbs": (u, v) => closedUp(u, v, 2.2),
  "head with a short border": (u, v) => closedUp(u, v, 0.25),
};

/** What a map is worth. */
export interface Judged {
  readonly energy: number;
  /** Mean of (s1 / s2 + s2 / s1) / 2, 1 where angles are kept. */
  readonly angles: number;
  readonly flips: number;
}

export function energyOf({ triangles, positions }: ShellMesh, uv: Float64Array): Judged {
  // Its own sum, so that nobody's result is judged by the code that made it.
  let [sum, angles, space, flat, flips] = [0, 0, 0, 0, 0];
  const areas: number[][] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!];
    const edge = (p: number, q: number) => [0, 1, 2].map((d) => positions[3 * q + d]! - positions[3 * p + d]!);
    const [e, f] = [edge(a, b), edge(a, c)];
    const l = Math.hypot(...e);
    const x = (e[0]! * f[0]! + e[1]! * f[1]! + e[2]! * f[2]!) / l;
    const y = Math.sqrt(Math.max(0, f.reduce((s, w) => s + w * w, 0) - x * x));
    const area = (l * y) / 2;
    const own = signedArea(uv, triangles, t);
    if (!(own > 0)) flips++;
    space += area;
    flat += own;
    const [u1, v1] = [uv[2 * b]! - uv[2 * a]!, uv[2 * b + 1]! - uv[2 * a + 1]!];
    const [u2, v2] = [uv[2 * c]! - uv[2 * a]!, uv[2 * c + 1]! - uv[2 * a + 1]!];
    areas.push([area, u1 / l, v1 / l, (u2 - (x * u1) / l) / y, (v2 - (x * v1) / l) / y]);
  }
  const k = space / flat;
  for (const [area, a, b, c, d] of areas) {
    const det = (a! * d! - b! * c!) * k;
    const square = (a! * a! + b! * b! + c! * c! + d! * d!) * k;
    sum += area! * square * (1 + 1 / (det * det));
    angles += (area! * square) / (2 * Math.abs(det));
  }
  return { energy: sum / 4 / space, angles: angles / space, flips };
}
