import { type Layout, structureOf } from "../layout/layout";
import { wedgesOfShell } from "../layout/shell-points";
import type { Shell } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";

/** Points of a shell farther from a line than this share of its length do not lie on it. */
const STRAIGHT = 1e-6;
/** Room beside the layout for what is turned over there, in tiles. */
const ROOM = 0.02;

/**
 * A layout turned over, shell by shell: about the line on which its points of the mirror plane lie, so that the two
 * halves stay joined there; about the right edge of the whole where there is no such line.
 *
 * @param onPlane 1 for vertices that are their own mirror image
 */
export function turnedOver(mesh: PolyMesh, layout: Layout, onPlane: Uint8Array): Layout {
  const s = structureOf(mesh, layout);
  const uv = layout.uv.slice();
  let right = Number.NEGATIVE_INFINITY;
  for (let i = 0; i < uv.length; i += 2) right = Math.max(right, uv[i]!);
  for (let shell = 0 as Shell; shell < s.shellCount; shell++) {
    const wedges = wedgesOfShell(mesh, layout, shell);
    const line = lineThrough(
      layout.uv,
      wedges.filter((w) => onPlane[s.wedgeVertex[w]!]),
    );
    for (const w of wedges) {
      const [u, v] = [layout.uv[2 * w]!, layout.uv[2 * w + 1]!];
      if (!line) uv[2 * w] = 2 * right + ROOM - u;
      // What lies on the line stays to the last bit: it is the same point for both halves.
      else if (!onPlane[s.wedgeVertex[w]!]) {
        const { x, y, du, dv } = line;
        const across = 2 * ((u - x) * dv - (v - y) * du);
        uv[2 * w] = u - across * dv;
        uv[2 * w + 1] = v + across * du;
      }
    }
  }
  return { ...layout, uv };
}

interface Line {
  readonly x: number;
  readonly y: number;
  /** Its direction, of length 1. */
  readonly du: number;
  readonly dv: number;
}

/** The line that some points lie on; null with fewer than two places, or where they lie on none. */
function lineThrough(uv: Float64Array, wedges: Uint32Array): Line | null {
  if (wedges.length < 2) return null;
  const farthest = (from: number): number => {
    let best = from;
    for (const w of wedges) if (distance(uv, from, w) > distance(uv, from, best)) best = w;
    return best;
  };
  const a = farthest(wedges[0]!);
  const b = farthest(a);
  const length = distance(uv, a, b);
  if (!(length > 0)) return null;
  const [x, y] = [uv[2 * a]!, uv[2 * a + 1]!];
  const [du, dv] = [(uv[2 * b]! - x) / length, (uv[2 * b + 1]! - y) / length];
  const isOff = (w: number) => Math.abs((uv[2 * w]! - x) * dv - (uv[2 * w + 1]! - y) * du) > STRAIGHT * length;
  return wedges.some(isOff) ? null : { x, y, du, dv };
}

const distance = (uv: Float64Array, a: number, b: number): number =>
  Math.hypot(uv[2 * a]! - uv[2 * b]!, uv[2 * a + 1]! - uv[2 * b + 1]!);
