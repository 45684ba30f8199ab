import { f32At, putF32 } from "./lists";

// Signed distances from a shell on a raster of nodes one unit apart: negative within it. Exact in a band about its outline;
// farther out they are cut off, deeper inside they are summed from node to node.

/** How far a node lies from one diagonally beside it. */
const DIAGONAL: f32 = Mathf.SQRT2;

/** Squared distances from a segment to the nodes within a band about it, where they are less than what is there. */
function nearSegment(out: usize, nx: i32, ny: i32, ax: f32, ay: f32, bx: f32, by: f32, reach: f32): void {
  const i0 = max(0, <i32>floor<f32>(min(ax, bx) - reach));
  const i1 = min(nx - 1, <i32>ceil<f32>(max(ax, bx) + reach));
  const j0 = max(0, <i32>floor<f32>(min(ay, by) - reach));
  const j1 = min(ny - 1, <i32>ceil<f32>(max(ay, by) + reach));
  const dx = bx - ax;
  const dy = by - ay;
  const squared = dx * dx + dy * dy;
  const inverse: f32 = squared > 0 ? 1 / squared : 0;
  for (let j = j0; j <= j1; j++) {
    const y = <f32>j - ay;
    const row = out + ((<usize>(j * nx)) << 2);
    let i = i0;
    if (ASC_FEATURE_SIMD)
      for (; i + 3 <= i1; i += 4) nearFour(row + ((<usize>i) << 2), <f32>i - ax, y, dx, dy, inverse);
    for (; i <= i1; i++) {
      const x = <f32>i - ax;
      const t = max(<f32>0, min(<f32>1, (x * dx + y * dy) * inverse));
      const ex = x - t * dx;
      const ey = y - t * dy;
      putF32(row, i, min(f32At(row, i), ex * ex + ey * ey));
    }
  }
}

/** The same for four nodes of a row, the first of them at (x, y) from the segment's beginning. */
function nearFour(at: usize, x: f32, y: f32, dx: f32, dy: f32, inverse: f32): void {
  const xs = f32x4.add(f32x4.splat(x), f32x4(0, 1, 2, 3));
  const along = f32x4.mul(f32x4.add(f32x4.mul(xs, f32x4.splat(dx)), f32x4.splat(y * dy)), f32x4.splat(inverse));
  const t = f32x4.pmax(f32x4.splat(0), f32x4.pmin(f32x4.splat(1), along));
  const ex = f32x4.sub(xs, f32x4.mul(t, f32x4.splat(dx)));
  const ey = f32x4.sub(f32x4.splat(y), f32x4.mul(t, f32x4.splat(dy)));
  v128.store(at, f32x4.pmin(v128.load(at), f32x4.add(f32x4.mul(ex, ex), f32x4.mul(ey, ey))));
}

/** Marks the nodes that a triangle covers. @param corners 6 numbers, counter-clockwise or clockwise */
function coverTriangle(inside: usize, nx: i32, ny: i32, corners: usize): void {
  const low = min(min(f32At(corners, 1), f32At(corners, 3)), f32At(corners, 5));
  const high = max(max(f32At(corners, 1), f32At(corners, 3)), f32At(corners, 5));
  const last = min(ny - 1, <i32>floor<f32>(high));
  for (let j = max(0, <i32>ceil<f32>(low)); j <= last; j++) {
    const y = <f32>j;
    let left: f32 = 1e9;
    let right: f32 = -1e9;
    for (let k: i32 = 0; k < 3; k++) {
      const ax = f32At(corners, 2 * k);
      const ay = f32At(corners, 2 * k + 1);
      const next = k === 2 ? 0 : k + 1;
      const bx = f32At(corners, 2 * next);
      const by = f32At(corners, 2 * next + 1);
      if (min(ay, by) > y || max(ay, by) < y) continue;
      if (ay === by) {
        left = min(left, min(ax, bx));
        right = max(right, max(ax, bx));
      } else {
        const x = ax + ((y - ay) / (by - ay)) * (bx - ax);
        left = min(left, x);
        right = max(right, x);
      }
    }
    const end = min(nx - 1, <i32>floor<f32>(right));
    for (let i = max(0, <i32>ceil<f32>(left)); i <= end; i++) store<u8>(inside + <usize>(j * nx + i), 1);
  }
}

/** What a node deep inside is at least as deep as, told by one beside it. */
function deepen(out: usize, at: i32, beside: i32, apart: f32): void {
  const depth = f32At(out, beside) - apart;
  if (depth > f32At(out, at)) putF32(out, at, depth);
}

/**
 * Distances of a shell, negative inside.
 *
 * @param out f32 per node, row after row @param inside room for a byte per node
 * @param segments 4 numbers each, f32, in nodes from the raster's corner @param triangles 6 numbers each
 * @param band how far from the outline distances are exact; those farther out are it and some more
 */
export function shellDistances(
  out: usize,
  inside: usize,
  nx: i32,
  ny: i32,
  segments: usize,
  segmentCount: i32,
  triangles: usize,
  triangleCount: i32,
  band: f32,
): void {
  const count = nx * ny;
  const far = band + 2;
  for (let k: i32 = 0; k < count; k++) putF32(out, k, 1e9);
  memory.fill(inside, 0, <usize>count);
  for (let k: i32 = 0; k < segmentCount; k++) {
    const at = 4 * k;
    const ax = f32At(segments, at);
    const ay = f32At(segments, at + 1);
    nearSegment(out, nx, ny, ax, ay, f32At(segments, at + 2), f32At(segments, at + 3), band + 1.5);
  }
  for (let k: i32 = 0; k < triangleCount; k++) coverTriangle(inside, nx, ny, triangles + ((<usize>(6 * k)) << 2));
  for (let k: i32 = 0; k < count; k++) {
    const squared = f32At(out, k);
    const isInside = load<u8>(inside + <usize>k) !== 0;
    // Most nodes lie farther off, where nothing is to be worked out.
    if (!isInside && squared >= far * far) putF32(out, k, far);
    else putF32(out, k, isInside ? -sqrt<f32>(squared) : sqrt<f32>(squared));
  }
  for (let j: i32 = 1; j < ny - 1; j++)
    for (let i: i32 = 1; i < nx - 1; i++) {
      const k = j * nx + i;
      if (f32At(out, k) >= -band) continue;
      deepen(out, k, k - 1, 1);
      deepen(out, k, k - nx, 1);
      deepen(out, k, k - nx - 1, DIAGONAL);
      deepen(out, k, k - nx + 1, DIAGONAL);
    }
  for (let j = ny - 2; j > 0; j--)
    for (let i = nx - 2; i > 0; i--) {
      const k = j * nx + i;
      if (f32At(out, k) >= -band) continue;
      deepen(out, k, k + 1, 1);
      deepen(out, k, k + nx, 1);
      deepen(out, k, k + nx + 1, DIAGONAL);
      deepen(out, k, k + nx - 1, DIAGONAL);
    }
}
