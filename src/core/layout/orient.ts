import { turn } from "../numeric/segments";

/** Points as (u, v) pairs turned by an angle (radians, counter-clockwise) about the origin. */
export function turned(uv: Float64Array, angle: number): Float64Array {
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  const out = new Float64Array(uv.length);
  for (let i = 0; i < uv.length; i += 2) {
    out[i] = c * uv[i]! - s * uv[i + 1]!;
    out[i + 1] = s * uv[i]! + c * uv[i + 1]!;
  }
  return out;
}

/** Points turned about one of the sheet. */
export function turnedAbout(uv: Float64Array, angle: number, [u, v]: readonly [number, number]): Float64Array {
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  const out = new Float64Array(uv.length);
  for (let i = 0; i < uv.length; i += 2) {
    const x = uv[i]! - u;
    const y = uv[i + 1]! - v;
    out[i] = c * x - s * y + u;
    out[i + 1] = s * x + c * y + v;
  }
  return out;
}

/** Indices of the convex hull, counter-clockwise. Source: A. Andrew, Another efficient algorithm (1979). */
export function convexHull(uv: Float64Array): number[] {
  const order = Array.from({ length: uv.length / 2 }, (_, i) => i).sort(
    (a, b) => uv[2 * a]! - uv[2 * b]! || uv[2 * a + 1]! - uv[2 * b + 1]!,
  );
  const chain = (points: readonly number[]) => {
    const out: number[] = [];
    for (const p of points) {
      while (out.length > 1) {
        const a = 2 * out[out.length - 2]!;
        const b = 2 * out[out.length - 1]!;
        if (turn(uv[a]!, uv[a + 1]!, uv[b]!, uv[b + 1]!, uv[2 * p]!, uv[2 * p + 1]!) > 0) break;
        out.pop();
      }
      out.push(p);
    }
    out.pop();
    return out;
  };
  return [...chain(order), ...chain(order.reverse())];
}

/** The angle, counter-clockwise, that lays points in their smallest box; a quarter turn more does as well. Source: H. Freeman, R. Shapira, Determining the minimum-area encasing rectangle (1975). */
export function smallestBoxAngle(uv: Float64Array): number {
  const ring = convexHull(uv);
  let best = 0;
  let least = Infinity;
  for (let k = 0; k < ring.length; k++) {
    const a = 2 * ring[k]!;
    const b = 2 * ring[(k + 1) % ring.length]!;
    const angle = -Math.atan2(uv[b + 1]! - uv[a + 1]!, uv[b]! - uv[a]!);
    const c = Math.cos(angle);
    const s = Math.sin(angle);
    let [u0, u1, v0, v1] = [Infinity, -Infinity, Infinity, -Infinity];
    for (const p of ring) {
      const u = c * uv[2 * p]! - s * uv[2 * p + 1]!;
      const v = s * uv[2 * p]! + c * uv[2 * p + 1]!;
      u0 = Math.min(u0, u);
      u1 = Math.max(u1, u);
      v0 = Math.min(v0, v);
      v1 = Math.max(v1, v);
    }
    const area = (u1 - u0) * (v1 - v0);
    if (area < least * (1 - 1e-9)) {
      least = area;
      best = angle;
    }
  }
  return best;
}

/**
 * The angle that stands a shell in its smallest box, of the four quarter turns the one with the form's up direction
 * nearest to upwards.
 *
 * @param uv 2 per point
 * @param triangles 3 points per triangle
 * @param height the form's height of every point
 */
export function uprightAngle(uv: Float64Array, triangles: Uint32Array, height: (point: number) => number): number {
  const best = smallestBoxAngle(uv);
  const [gu, gv] = climb(uv, triangles, height);
  const up = Math.atan2(gv, gu) + best;
  const quarters = Math.round((Math.PI / 2 - up) / (Math.PI / 2));
  return best + (quarters * Math.PI) / 2;
}

/** Direction in UV in which the form climbs, summed over the triangles by UV area. */
function climb(uv: Float64Array, triangles: Uint32Array, height: (point: number) => number): [number, number] {
  let gu = 0;
  let gv = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    for (let k = 0; k < 3; k++) {
      const i = 2 * triangles[t + ((k + 1) % 3)]!;
      const j = 2 * triangles[t + ((k + 2) % 3)]!;
      const h = height(triangles[t + k]!);
      gu += h * (uv[i + 1]! - uv[j + 1]!);
      gv += h * (uv[j]! - uv[i]!);
    }
  }
  return [gu, gv];
}

/** The turn, scale and shift of least squares from one point list onto another of the same length. */
export function bestFit(
  from: Float64Array,
  to: Float64Array,
): { angle: number; scale: number; du: number; dv: number } {
  const n = from.length / 2;
  const mean = [0, 0, 0, 0];
  for (let i = 0; i < n; i++) {
    mean[0]! += from[2 * i]! / n;
    mean[1]! += from[2 * i + 1]! / n;
    mean[2]! += to[2 * i]! / n;
    mean[3]! += to[2 * i + 1]! / n;
  }
  let [dot, cross, square] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const x = from[2 * i]! - mean[0]!;
    const y = from[2 * i + 1]! - mean[1]!;
    const p = to[2 * i]! - mean[2]!;
    const q = to[2 * i + 1]! - mean[3]!;
    dot += x * p + y * q;
    cross += x * q - y * p;
    square += x * x + y * y;
  }
  const angle = Math.atan2(cross, dot);
  const scale = square > 0 ? Math.hypot(dot, cross) / square : 1;
  return { angle, scale, ...offsetFor(mean, angle, scale) };
}

function offsetFor(mean: readonly number[], angle: number, scale: number): { du: number; dv: number } {
  const c = scale * Math.cos(angle);
  const s = scale * Math.sin(angle);
  return { du: mean[2]! - c * mean[0]! + s * mean[1]!, dv: mean[3]! - s * mean[0]! - c * mean[1]! };
}
