// Long vectors of an even count of numbers.

/** The product of two vectors. */
export function dot(count: i32, a: usize, b: usize): f64 {
  const end = (<usize>count) << 3;
  if (ASC_FEATURE_SIMD) {
    let sum = f64x2.splat(0);
    for (let i: usize = 0; i < end; i += 16) sum = f64x2.add(sum, f64x2.mul(v128.load(a + i), v128.load(b + i)));
    return f64x2.extract_lane(sum, 0) + f64x2.extract_lane(sum, 1);
  } else {
    let even: f64 = 0;
    let odd: f64 = 0;
    for (let i: usize = 0; i < end; i += 16) {
      even += load<f64>(a + i) * load<f64>(b + i);
      odd += load<f64>(a + i, 8) * load<f64>(b + i, 8);
    }
    return even + odd;
  }
}

/** out = a + times b */
export function addScaled(count: i32, out: usize, a: usize, b: usize, times: f64): void {
  const end = (<usize>count) << 3;
  if (ASC_FEATURE_SIMD) {
    const t = f64x2.splat(times);
    for (let i: usize = 0; i < end; i += 16)
      v128.store(out + i, f64x2.add(v128.load(a + i), f64x2.mul(v128.load(b + i), t)));
  } else for (let i: usize = 0; i < end; i += 8) store<f64>(out + i, load<f64>(a + i) + times * load<f64>(b + i));
}
