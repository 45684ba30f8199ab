/**
 * a[i][j] -= sum over k in k0..k1-1 of a[i][k] a[j][k], for rows r0..r1-1, columns c0..c1-1 with j <= i.
 * Row-major with the given stride; two rows by two columns at a time keep four sums in registers.
 */
export function subtractProducts(
  a: Float64Array,
  stride: number,
  r0: number,
  r1: number,
  c0: number,
  c1: number,
  k0: number,
  k1: number,
): void {
  for (let i = r0; i < r1; i += 2) {
    const pair = i + 1 < r1;
    const x = i * stride;
    const y = pair ? x + stride : x;
    const last = Math.min(c1, i + (pair ? 2 : 1));
    for (let j = c0; j < last; j += 2) {
      const p = j * stride;
      const q = j + 1 < last ? p + stride : p;
      let s00 = 0;
      let s01 = 0;
      let s10 = 0;
      let s11 = 0;
      for (let k = k0; k < k1; k++) {
        const xi = a[x + k]!;
        const yi = a[y + k]!;
        const pj = a[p + k]!;
        const qj = a[q + k]!;
        s00 += xi * pj;
        s01 += xi * qj;
        s10 += yi * pj;
        s11 += yi * qj;
      }
      a[x + j]! -= s00;
      if (q !== p) a[x + j + 1]! -= s01; // above the diagonal at the end of a row pair: never read
      if (pair) {
        a[y + j]! -= s10;
        if (q !== p) a[y + j + 1]! -= s11;
      }
    }
  }
}

const BLOCK = 8;

/**
 * Factors the first `pivots` columns of a symmetric matrix (lower half, row-major, m x m) as L L^T in place and
 * subtracts their part from the rest, as one step of a multifrontal factorisation.
 *
 * @returns false when a pivot is not positive
 */
export function factorFront(a: Float64Array, m: number, pivots: number): boolean {
  for (let c0 = 0; c0 < pivots; c0 += BLOCK) {
    const c1 = Math.min(pivots, c0 + BLOCK);
    if (c0 > 0) subtractProducts(a, m, c0, m, c0, c1, 0, c0);
    for (let j = c0; j < c1; j++) {
      const row = j * m;
      let d = a[row + j]!;
      for (let k = c0; k < j; k++) d -= a[row + k]! * a[row + k]!;
      if (!(d > 0)) return false;
      d = Math.sqrt(d);
      a[row + j] = d;
      const inverse = 1 / d;
      for (let i = j + 1; i < m; i++) {
        const x = i * m;
        let s = a[x + j]!;
        for (let k = c0; k < j; k++) s -= a[x + k]! * a[row + k]!;
        a[x + j] = s * inverse;
      }
    }
  }
  for (let c0 = pivots; c0 < m; c0 += BLOCK) subtractProducts(a, m, c0, m, c0, Math.min(m, c0 + BLOCK), 0, pivots);
  return true;
}
