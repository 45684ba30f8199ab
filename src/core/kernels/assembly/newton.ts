// Newton's step of one point.

/** The step last solved for. */
export let stepU: f64 = 0;
export let stepV: f64 = 0;

/**
 * Solves for the step of a gradient g: by the Hessian h - m where that is positive, else by h, which is.
 */
export function solveTwo(h00: f64, h01: f64, h11: f64, m00: f64, m01: f64, m11: f64, g0: f64, g1: f64): void {
  let a00 = h00 - m00;
  let a01 = h01 - m01;
  let a11 = h11 - m11;
  let det = a00 * a11 - a01 * a01;
  if (!(a00 > 0 && det > 1e-9 * h00 * h11)) {
    a00 = h00;
    a01 = h01;
    a11 = h11;
    det = a00 * a11 - a01 * a01;
  }
  stepU = -(a11 * g0 - a01 * g1) / det;
  stepV = -(a00 * g1 - a01 * g0) / det;
}
