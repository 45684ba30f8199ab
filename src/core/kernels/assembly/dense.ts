// Dense products, and the factorisation of a panel of columns. Addresses are bytes of linear memory; a matrix lies row
// after row, `ld` bytes apart, and every row has room for an even number of columns, so that two are taken at a time.

/** The sums of both lanes of two, beside each other. */
function laneSums(a: v128, b: v128): v128 {
  return f64x2.add(v128.shuffle<f64>(a, b, 0, 2), v128.shuffle<f64>(a, b, 1, 3));
}

/** The product of two rows of `bytes`. */
function rowProduct(a: usize, b: usize, bytes: usize): f64 {
  if (ASC_FEATURE_SIMD) {
    let sum = f64x2.splat(0);
    for (let q: usize = 0; q < bytes; q += 16) sum = f64x2.add(sum, f64x2.mul(v128.load(a + q), v128.load(b + q)));
    return f64x2.extract_lane(sum, 0) + f64x2.extract_lane(sum, 1);
  } else {
    let even: f64 = 0;
    let odd: f64 = 0;
    for (let q: usize = 0; q < bytes; q += 16) {
      even += load<f64>(a + q) * load<f64>(b + q);
      odd += load<f64>(a + q, 8) * load<f64>(b + q, 8);
    }
    return even + odd;
  }
}

/** Takes the products of four rows with two off a block of four by two. */
function fourByTwo(a: usize, lda: usize, b: usize, ldb: usize, bytes: usize, c: usize, ldc: usize): void {
  const a1 = a + lda;
  const a2 = a1 + lda;
  const a3 = a2 + lda;
  const b1 = b + ldb;
  if (ASC_FEATURE_SIMD) {
    let s00 = f64x2.splat(0);
    let s01 = s00;
    let s10 = s00;
    let s11 = s00;
    let s20 = s00;
    let s21 = s00;
    let s30 = s00;
    let s31 = s00;
    for (let q: usize = 0; q < bytes; q += 16) {
      const y0 = v128.load(b + q);
      const y1 = v128.load(b1 + q);
      const x0 = v128.load(a + q);
      s00 = f64x2.add(s00, f64x2.mul(x0, y0));
      s01 = f64x2.add(s01, f64x2.mul(x0, y1));
      const x1 = v128.load(a1 + q);
      s10 = f64x2.add(s10, f64x2.mul(x1, y0));
      s11 = f64x2.add(s11, f64x2.mul(x1, y1));
      const x2 = v128.load(a2 + q);
      s20 = f64x2.add(s20, f64x2.mul(x2, y0));
      s21 = f64x2.add(s21, f64x2.mul(x2, y1));
      const x3 = v128.load(a3 + q);
      s30 = f64x2.add(s30, f64x2.mul(x3, y0));
      s31 = f64x2.add(s31, f64x2.mul(x3, y1));
    }
    v128.store(c, f64x2.sub(v128.load(c), laneSums(s00, s01)));
    c += ldc;
    v128.store(c, f64x2.sub(v128.load(c), laneSums(s10, s11)));
    c += ldc;
    v128.store(c, f64x2.sub(v128.load(c), laneSums(s20, s21)));
    c += ldc;
    v128.store(c, f64x2.sub(v128.load(c), laneSums(s30, s31)));
  } else {
    for (let i = 0; i < 4; i++) {
      store<f64>(c, load<f64>(c) - rowProduct(a, b, bytes));
      store<f64>(c, load<f64>(c, 8) - rowProduct(a, b1, bytes), 8);
      a += lda;
      c += ldc;
    }
  }
}

/**
 * C -= A B^T, of `ni` and `nj` rows of `bytes`. With `lower` only what lies on and below the diagonal is wanted: of a block
 * of four rows what stands right of it by up to three columns is written too.
 */
export function subtractProduct(
  a: usize,
  lda: usize,
  ni: i32,
  b: usize,
  ldb: usize,
  nj: i32,
  bytes: usize,
  c: usize,
  ldc: usize,
  lower: bool,
): void {
  let i: i32 = 0;
  for (; i + 4 <= ni; i += 4) {
    const most = lower ? min(nj, i + 4) : nj;
    let row = b;
    let j: i32 = 0;
    for (; j + 2 <= most; j += 2) {
      fourByTwo(a, lda, row, ldb, bytes, c + ((<usize>j) << 3), ldc);
      row += 2 * ldb;
    }
    if (j < most)
      for (let k: usize = 0; k < 4; k++) {
        const at = c + k * ldc + ((<usize>j) << 3);
        store<f64>(at, load<f64>(at) - rowProduct(a + k * lda, row, bytes));
      }
    a += 4 * lda;
    c += 4 * ldc;
  }
  for (; i < ni; i++) {
    const most = lower ? min(nj, i + 1) : nj;
    for (let j: i32 = 0; j < most; j++) {
      const at = c + ((<usize>j) << 3);
      store<f64>(at, load<f64>(at) - rowProduct(a, b + <usize>j * ldb, bytes));
    }
    a += lda;
    c += ldc;
  }
}

/** Columns and rows that are taken together: so many fit into the nearest memory. */
const DEPTH: i32 = 256;
const WIDTH: i32 = 64;

/** The lower half of U -= P P^T, of `rows` rows of `columns`. */
export function subtractSquare(p: usize, ldp: usize, rows: i32, columns: i32, u: usize, ldu: usize): void {
  for (let k: i32 = 0; k < columns; k += DEPTH) {
    const bytes = (<usize>((min(DEPTH, columns - k) + 1) & ~1)) << 3;
    const from = p + ((<usize>k) << 3);
    for (let j: i32 = 0; j < rows; j += WIDTH) {
      const wide = min(WIDTH, rows - j);
      const own = from + <usize>j * ldp;
      const into = u + <usize>j * ldu + ((<usize>j) << 3);
      subtractProduct(own, ldp, wide, own, ldp, wide, bytes, into, ldu, true);
      const below = rows - j - wide;
      if (below > 0)
        subtractProduct(
          own + <usize>wide * ldp,
          ldp,
          below,
          own,
          ldp,
          wide,
          bytes,
          into + <usize>wide * ldu,
          ldu,
          false,
        );
    }
  }
}

/** Columns of a narrow block. */
const NARROW: i32 = 8;
/** The inverse of a narrow block's factor, transposed, 8 x 8. */
const INVERSE = memory.data(64 * 8, 16);

/** Factors a square block of up to 8 columns that all before it has been taken off. @returns false for one that is not positive */
function factorNarrow(d: usize, ld: usize, count: i32): bool {
  for (let j: i32 = 0; j < count; j++) {
    const rj = d + <usize>j * ld;
    let s = load<f64>(rj + ((<usize>j) << 3));
    for (let q: i32 = 0; q < j; q++) {
      const v = load<f64>(rj + ((<usize>q) << 3));
      s -= v * v;
    }
    if (!(s > 0)) return false;
    s = Math.sqrt(s);
    store<f64>(rj + ((<usize>j) << 3), s);
    const inverse = 1 / s;
    for (let i = j + 1; i < count; i++) {
      const ri = d + <usize>i * ld;
      let t = load<f64>(ri + ((<usize>j) << 3));
      for (let q: i32 = 0; q < j; q++) t -= load<f64>(ri + ((<usize>q) << 3)) * load<f64>(rj + ((<usize>q) << 3));
      store<f64>(ri + ((<usize>j) << 3), t * inverse);
    }
  }
  return true;
}

/** Writes the inverse of a factored narrow block: row k holds what its column k is. */
function invertNarrow(d: usize, ld: usize, count: i32): void {
  memory.fill(INVERSE, 0, 64 * 8);
  for (let k: i32 = 0; k < count; k++) {
    const row = INVERSE + ((<usize>k) << 6);
    store<f64>(row + ((<usize>k) << 3), 1 / load<f64>(d + <usize>k * ld + ((<usize>k) << 3)));
    for (let j = k + 1; j < count; j++) {
      const rj = d + <usize>j * ld;
      let t: f64 = 0;
      for (let q = k; q < j; q++) t -= load<f64>(rj + ((<usize>q) << 3)) * load<f64>(row + ((<usize>q) << 3));
      store<f64>(row + ((<usize>j) << 3), t / load<f64>(rj + ((<usize>j) << 3)));
    }
  }
}

/** Multiplies rows of 8 by the inverse; what lies above its diagonal is zero. */
function timesInverse8(row: usize, ld: usize, rows: i32): void {
  for (let i: i32 = 0; i < rows; i++) {
    let y0 = f64x2.splat(0);
    let y1 = y0;
    let y2 = y0;
    let y3 = y0;
    for (let k: usize = 0; k < 8; k++) {
      const x = v128.load64_splat(row + (k << 3));
      const d = INVERSE + (k << 6);
      y0 = f64x2.add(y0, f64x2.mul(x, v128.load(d)));
      y1 = f64x2.add(y1, f64x2.mul(x, v128.load(d, 16)));
      y2 = f64x2.add(y2, f64x2.mul(x, v128.load(d, 32)));
      y3 = f64x2.add(y3, f64x2.mul(x, v128.load(d, 48)));
    }
    v128.store(row, y0);
    v128.store(row, y1, 16);
    v128.store(row, y2, 32);
    v128.store(row, y3, 48);
    row += ld;
  }
}

function timesInverse(row: usize, ld: usize, rows: i32, count: i32): void {
  if (ASC_FEATURE_SIMD) {
    if (count === NARROW) {
      timesInverse8(row, ld, rows);
      return;
    }
  }
  for (let i: i32 = 0; i < rows; i++) {
    for (let j = count - 1; j >= 0; j--) {
      let t: f64 = 0;
      for (let q: i32 = 0; q <= j; q++)
        t += load<f64>(row + ((<usize>q) << 3)) * load<f64>(INVERSE + ((<usize>q) << 6) + ((<usize>j) << 3));
      store<f64>(row + ((<usize>j) << 3), t);
    }
    row += ld;
  }
}

/** Columns of an outer block. */
const OUTER: i32 = 64;

/**
 * Factors a panel of `rows` rows and `columns` columns in place: its square top becomes L, what is below is multiplied by
 * L^-T. What lies above the diagonal may hold anything afterwards.
 *
 * @returns false where it is not positive definite
 */
export function factorPanel(p: usize, ld: usize, rows: i32, columns: i32): bool {
  for (let from: i32 = 0; from < columns; from += OUTER) {
    const to = min(columns, from + OUTER);
    const row = p + <usize>from * ld;
    for (let k: i32 = 0; k < from; k += DEPTH) {
      const before = row + ((<usize>k) << 3);
      const bytes = (<usize>min(DEPTH, from - k)) << 3;
      subtractProduct(before, ld, rows - from, before, ld, to - from, bytes, row + ((<usize>from) << 3), ld, false);
    }
    for (let c = from; c < to; c += NARROW) {
      const count = min(NARROW, to - c);
      const own = p + <usize>c * ld;
      const block = own + ((<usize>c) << 3);
      if (c > from) {
        const before = own + ((<usize>from) << 3);
        subtractProduct(before, ld, rows - c, before, ld, count, (<usize>(c - from)) << 3, block, ld, false);
      }
      if (!factorNarrow(block, ld, count)) return false;
      invertNarrow(block, ld, count);
      timesInverse(block + <usize>count * ld, ld, rows - c - count, count);
    }
  }
  return true;
}
