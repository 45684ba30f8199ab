/**
 * The eigenvectors of a symmetric matrix of three rows, the one with the largest eigenvalue first, each of length 1.
 * Source: C. Jacobi, Über ein leichtes Verfahren (1846): one entry off the diagonal after another is turned to nothing.
 *
 * @param m 9 numbers, row by row
 */
export function symmetricEigen(m: Float64Array): Array<[number, number, number]> {
  const a = m.slice();
  const v = Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1);
  const size = Math.abs(a[0]!) + Math.abs(a[4]!) + Math.abs(a[8]!);
  for (let sweep = 0; sweep < MOST_SWEEPS; sweep++) {
    if (Math.abs(a[1]!) + Math.abs(a[2]!) + Math.abs(a[5]!) <= 1e-15 * size) break;
    turnAway(a, v, 0, 1);
    turnAway(a, v, 0, 2);
    turnAway(a, v, 1, 2);
  }
  return [0, 1, 2]
    .sort((i, j) => a[4 * j]! - a[4 * i]! || i - j)
    .map((k) => [v[k]!, v[3 + k]!, v[6 + k]!] as [number, number, number]);
}

const MOST_SWEEPS = 50;

function turnAway(a: Float64Array, v: Float64Array, p: number, q: number): void {
  const off = a[3 * p + q]!;
  if (off === 0) return;
  const ratio = (a[4 * q]! - a[4 * p]!) / (2 * off);
  const t = (ratio < 0 ? -1 : 1) / (Math.abs(ratio) + Math.sqrt(ratio * ratio + 1));
  const c = 1 / Math.sqrt(t * t + 1);
  const s = t * c;
  for (let k = 0; k < 3; k++) {
    const [x, y] = [a[3 * k + p]!, a[3 * k + q]!];
    a[3 * k + p] = c * x - s * y;
    a[3 * k + q] = s * x + c * y;
  }
  for (let k = 0; k < 3; k++) {
    const [x, y] = [a[3 * p + k]!, a[3 * q + k]!];
    a[3 * p + k] = c * x - s * y;
    a[3 * q + k] = s * x + c * y;
    const [g, h] = [v[3 * k + p]!, v[3 * k + q]!];
    v[3 * k + p] = c * g - s * h;
    v[3 * k + q] = s * g + c * h;
  }
}
