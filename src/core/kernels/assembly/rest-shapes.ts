// Triangles flattened one by one: of each its share of the area, and the gradients of its three hat functions in a plane of
// its own, for the whole scaled to an area of 1. A triangle without area gets a thin shape of its own, so that it too can
// flip and must not.
import { f64At, i32At, putF64 } from "./lists";
import { REST } from "./stretch";

/** Height over longest edge below which a triangle counts as having no shape of its own. */
const NEEDLE: f64 = 1e-5;
/** Of the longest edge of all, what a triangle's longest is at least. */
const LEAST_EDGE: f64 = 1e-6;

/** Squares of the edges across from each corner, of the triangle last looked at. */
let across0: f64 = 0;
let across1: f64 = 0;
let across2: f64 = 0;

function look(triangles: usize, t: i32, places: usize): void {
  const a = places + <usize>i32At(triangles, 3 * t) * 24;
  const b = places + <usize>i32At(triangles, 3 * t + 1) * 24;
  const c = places + <usize>i32At(triangles, 3 * t + 2) * 24;
  across0 = square(b, c);
  across1 = square(c, a);
  across2 = square(a, b);
}
function square(a: usize, b: usize): f64 {
  const x = load<f64>(b) - load<f64>(a);
  const y = load<f64>(b, 8) - load<f64>(a, 8);
  const z = load<f64>(b, 16) - load<f64>(a, 16);
  return x * x + y * y + z * z;
}

/** A shape: its longest edge along the first axis, where the third point stands along it, and how high. */
let base: f64 = 0;
let foot: f64 = 0;
let height: f64 = 0;
/** The corner that the longest edge begins at. */
let first: i32 = 0;

function layFlat(triangles: usize, t: i32, places: usize, least: f64): void {
  look(triangles, t, places);
  first = across2 >= across0 && across2 >= across1 ? 0 : across0 >= across1 ? 1 : 2;
  const longest = Math.sqrt(first === 0 ? across2 : first === 1 ? across0 : across1);
  base = Math.max(longest, least);
  foot = base / 2;
  height = 0;
  if (longest >= least && longest > 0) {
    const p = places + <usize>i32At(triangles, 3 * t + first) * 24;
    const q = places + <usize>i32At(triangles, 3 * t + ((first + 1) % 3)) * 24;
    const r = places + <usize>i32At(triangles, 3 * t + ((first + 2) % 3)) * 24;
    const x = load<f64>(r) - load<f64>(p);
    const y = load<f64>(r, 8) - load<f64>(p, 8);
    const z = load<f64>(r, 16) - load<f64>(p, 16);
    const along =
      ((load<f64>(q) - load<f64>(p)) * x +
        (load<f64>(q, 8) - load<f64>(p, 8)) * y +
        (load<f64>(q, 16) - load<f64>(p, 16)) * z) /
      longest;
    foot = Math.min(Math.max(along, 0), base);
    height = Math.sqrt(Math.max(0, x * x + y * y + z * z - along * along));
  }
  height = Math.max(height, NEEDLE * base);
}

/** The area of some triangles in space; the square of their longest edge is left in `longestSquare`. */
let longestSquare: f64 = 0;
function areaOf(count: i32, triangles: usize, places: usize): f64 {
  longestSquare = 0;
  let sum: f64 = 0;
  for (let t: i32 = 0; t < count; t++) {
    look(triangles, t, places);
    longestSquare = Math.max(longestSquare, Math.max(across0, Math.max(across1, across2)));
    layFlat(triangles, t, places, 0);
    sum += (base * height) / 2;
  }
  return sum;
}

function putGradient(rest: usize, corner: i32, x: f64, y: f64): void {
  const at = rest + ((<usize>(corner % 3)) << 4);
  store<f64>(at, x, 8);
  store<f64>(at, y, 16);
}

/** Writes the rest shapes of triangles. @param places 3 a point @returns the area in space */
export function restShapes(count: i32, triangles: usize, places: usize, rests: usize): f64 {
  const area = areaOf(count, triangles, places);
  const least = LEAST_EDGE * Math.sqrt(longestSquare);
  const unit = area > 0 ? Math.sqrt(area) : 1;
  let total: f64 = 0;
  for (let t: i32 = 0; t < count; t++) {
    layFlat(triangles, t, places, least);
    const rest = rests + <usize>t * REST;
    const own = (base * height) / (2 * unit * unit);
    total += own;
    store<f64>(rest, own);
    putGradient(rest, first, -unit / base, ((foot - base) * unit) / (base * height));
    putGradient(rest, first + 1, unit / base, (-foot * unit) / (base * height));
    putGradient(rest, first + 2, 0, unit / height);
  }
  if (total > 0)
    for (let t: i32 = 0; t < count; t++) {
      const rest = rests + <usize>t * REST;
      store<f64>(rest, load<f64>(rest) / total);
    }
  return area;
}

function product(rest: usize, a: i32, b: i32): f64 {
  const p = rest + ((<usize>a) << 4);
  const q = rest + ((<usize>b) << 4);
  return load<f64>(p, 8) * load<f64>(q, 8) + load<f64>(p, 16) * load<f64>(q, 16);
}

/** Writes the cotangent Laplacian, positive semidefinite. @param slots as for the metric @param size how many values there are */
export function laplacian(count: i32, rests: usize, slots: usize, values: usize, size: i32): void {
  memory.fill(values, 0, (<usize>size) << 3);
  for (let t: i32 = 0; t < count; t++) {
    const rest = rests + <usize>t * REST;
    const area = load<f64>(rest);
    let slot = 6 * t;
    for (let a: i32 = 0; a < 3; a++)
      for (let b = a; b < 3; b++) {
        const at = i32At(slots, slot++);
        putF64(values, at, f64At(values, at) + area * product(rest, a, b));
      }
  }
}

/** Takes the angles of triangles off what is there for their points. */
export function takeAngles(count: i32, triangles: usize, rests: usize, out: usize): void {
  for (let t: i32 = 0; t < count; t++) {
    const rest = rests + <usize>t * REST;
    for (let k: i32 = 0; k < 3; k++) {
      // Gradients stand across the edges: the angle between two of them is what is missing to half a turn.
      const a = (k + 1) % 3;
      const b = (k + 2) % 3;
      const p = rest + ((<usize>a) << 4);
      const q = rest + ((<usize>b) << 4);
      const cross = Math.abs(load<f64>(p, 8) * load<f64>(q, 16) - load<f64>(p, 16) * load<f64>(q, 8));
      const at = i32At(triangles, 3 * t + k);
      putF64(out, at, f64At(out, at) - Math.atan2(cross, -product(rest, a, b)));
    }
  }
}
