import { Derived } from "./derived";
import type { PolyMesh } from "./poly-mesh";

/** 16 numbers, column-major: a point p goes to M p. */
export type Mat4 = readonly number[];

export const IDENTITY: Mat4 = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

export const isIdentity = (m: Mat4): boolean => IDENTITY.every((x, i) => m[i] === x);

/** Determinant of the 3x3 part: negative for a mirrored transform. */
export const determinant = (m: Mat4): number =>
  m[0]! * (m[5]! * m[10]! - m[6]! * m[9]!) -
  m[4]! * (m[1]! * m[10]! - m[2]! * m[9]!) +
  m[8]! * (m[1]! * m[6]! - m[2]! * m[5]!);

export function transformPoints(m: Mat4, points: Float64Array): Float64Array {
  const out = new Float64Array(points.length);
  for (let i = 0; i < points.length; i += 3) {
    const x = points[i]!;
    const y = points[i + 1]!;
    const z = points[i + 2]!;
    out[i] = m[0]! * x + m[4]! * y + m[8]! * z + m[12]!;
    out[i + 1] = m[1]! * x + m[5]! * y + m[9]! * z + m[13]!;
    out[i + 2] = m[2]! * x + m[6]! * y + m[10]! * z + m[14]!;
  }
  return out;
}

const cache = new Derived<PolyMesh, { key: Mat4; points: Float64Array }>("world positions");

/** Vertex positions of a mesh under a transform; the last one asked for is kept per mesh. */
export function worldPositions(mesh: PolyMesh, m: Mat4): Float64Array {
  if (isIdentity(m)) return mesh.positions;
  const kept = cache.get(mesh);
  if (kept && kept.key.every((x, i) => x === m[i])) return kept.points;
  const points = transformPoints(m, mesh.positions);
  cache.set(mesh, { key: m, points });
  return points;
}

/** The transform that does b first, then a. */
export function multiply(a: Mat4, b: Mat4): Mat4 {
  if (a === IDENTITY) return b;
  const out = new Array<number>(16).fill(0);
  for (let column = 0; column < 4; column++)
    for (let row = 0; row < 4; row++)
      for (let k = 0; k < 4; k++) out[4 * column + row]! += a[4 * k + row]! * b[4 * column + k]!;
  return out;
}

/** The transform that takes back an affine one. @throws when it flattens space */
export function inverse(m: Mat4): Mat4 {
  const d = determinant(m);
  if (d === 0) throw new Error("The transform flattens the part and cannot be taken back.");
  const [a, b, c, , e, f, g, , i, j, k] = m as number[];
  const rows = [
    [(f! * k! - g! * j!) / d, (g! * i! - e! * k!) / d, (e! * j! - f! * i!) / d],
    [(c! * j! - b! * k!) / d, (a! * k! - c! * i!) / d, (b! * i! - a! * j!) / d],
    [(b! * g! - c! * f!) / d, (c! * e! - a! * g!) / d, (a! * f! - b! * e!) / d],
  ];
  const move = rows.map((r) => -(r[0]! * m[12]! + r[1]! * m[13]! + r[2]! * m[14]!));
  const column = (n: number) => rows.map((r) => r[n]!);
  return [...column(0), 0, ...column(1), 0, ...column(2), 0, ...move, 1];
}
