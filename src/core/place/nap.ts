import type { ShellMesh } from "../unfold/shell-mesh";
import type { Way } from "./upright";

/** Where the nap runs, and which way; either end of that may be the first. */
export interface Nap {
  /** 3 per place, in space. */
  readonly places: Float64Array;
  /** 3 per place, unit. */
  readonly ways: Float64Array;
}

/** Triangles of a shell that are looked at: of more, as many are taken evenly. */
const LOOKED_AT = 1500;

/**
 * The way in which the nap lies on a shell on the sheet, over all of it: every triangle follows the places of the nap by the
 * square of their nearness. Either end of the way may be the first, so angles are added twofold.
 *
 * @param uv 2 per point @returns unit; null where the nap stands square to the shell, or runs all ways alike
 */
export function napWay(
  { triangles, positions: p }: Pick<ShellMesh, "triangles" | "positions">,
  uv: Float64Array,
  nap: Nap,
): Way | null {
  const step = Math.ceil(triangles.length / 3 / LOOKED_AT) || 1;
  const own = new Float64Array(3);
  let [x, y, all] = [0, 0, 0];
  for (let t = 0; t < triangles.length; t += 3 * step) {
    const a = 3 * triangles[t]!;
    const b = 3 * triangles[t + 1]!;
    const c = 3 * triangles[t + 2]!;
    writeNapAt(
      nap,
      (p[a]! + p[b]! + p[c]!) / 3,
      (p[a + 1]! + p[b + 1]! + p[c + 1]!) / 3,
      (p[a + 2]! + p[b + 2]! + p[c + 2]!) / 3,
      own,
    );
    const ex = p[b]! - p[a]!;
    const ey = p[b + 1]! - p[a + 1]!;
    const ez = p[b + 2]! - p[a + 2]!;
    const fx = p[c]! - p[a]!;
    const fy = p[c + 1]! - p[a + 1]!;
    const fz = p[c + 2]! - p[a + 2]!;
    const ee = ex * ex + ey * ey + ez * ez;
    const ff = fx * fx + fy * fy + fz * fz;
    const ef = ex * fx + ey * fy + ez * fz;
    const square = ee * ff - ef * ef;
    if (!(square > 1e-24 * (ee + ff) ** 2)) continue;
    const en = ex * own[0]! + ey * own[1]! + ez * own[2]!;
    const fn = fx * own[0]! + fy * own[1]! + fz * own[2]!;
    // The nap's share on the triangle by both of its sides, led onto the sheet with them.
    const i = (ff * en - ef * fn) / square;
    const j = (ee * fn - ef * en) / square;
    const u = i * (uv[(2 * b) / 3]! - uv[(2 * a) / 3]!) + j * (uv[(2 * c) / 3]! - uv[(2 * a) / 3]!);
    const v = i * (uv[(2 * b) / 3 + 1]! - uv[(2 * a) / 3 + 1]!) + j * (uv[(2 * c) / 3 + 1]! - uv[(2 * a) / 3 + 1]!);
    const length = Math.sqrt(u * u + v * v);
    if (!(length > 0)) continue;
    const weight = Math.sqrt(square) * length;
    x += (weight * (u * u - v * v)) / (length * length);
    y += (weight * 2 * u * v) / (length * length);
    all += weight;
  }
  if (!(Math.sqrt(x * x + y * y) > ALIKE * all)) return null;
  const angle = Math.atan2(y, x) / 2;
  return [Math.cos(angle), Math.sin(angle)];
}

/** How much of it has to go one way, rather than all ways alike. */
const ALIKE = 0.05;

/** Writes the way of the nap at a place, by the square of how near it runs. */
function writeNapAt({ places, ways }: Nap, x: number, y: number, z: number, out: Float64Array): void {
  out.fill(0);
  let nearest = 0;
  let least = Infinity;
  for (let i = 0; i < places.length; i += 3) {
    const off = (places[i]! - x) ** 2 + (places[i + 1]! - y) ** 2 + (places[i + 2]! - z) ** 2;
    if (off >= least) continue;
    least = off;
    nearest = i;
  }
  for (let i = 0; i < places.length; i += 3) {
    const off = (places[i]! - x) ** 2 + (places[i + 1]! - y) ** 2 + (places[i + 2]! - z) ** 2;
    // As the nearest one goes: a line that was picked from its other end goes the same way.
    const along = ways[i]! * ways[nearest]! + ways[i + 1]! * ways[nearest + 1]! + ways[i + 2]! * ways[nearest + 2]!;
    const weight = (along < 0 ? -1 : 1) / (off + 1e-9 * (least + 1e-30));
    for (let d = 0; d < 3; d++) out[d]! += weight * ways[i + d]!;
  }
  const length = Math.sqrt(out[0]! ** 2 + out[1]! ** 2 + out[2]! ** 2);
  if (length > 0) for (let d = 0; d < 3; d++) out[d]! /= length;
}
