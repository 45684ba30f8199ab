import { type Asset, type DrawnPart, drawnParts, type UvSetId } from "../layout/asset";
import { getBit } from "../layout/bits";
import { structureOf } from "../layout/layout";
import { NONE } from "../mesh/poly-mesh";
import { transformPoints } from "../mesh/transform";
import { trianglesOf } from "../mesh/triangulate";
import { srgbOf } from "../numeric/srgb";

type Vec = [number, number, number];

/**
 * A small shaded picture of an asset, seen from the front, a little from the right and above; drawn in software so
 * that the server can do it. Four samples a pixel.
 *
 * @param swatch the UV set whose checker is drawn on the faces; none when left out
 * @returns width * height * 4 bytes, sRGB with alpha
 */
export function drawPicture(asset: Asset, width: number, height: number, swatch?: UvSetId): Uint8Array {
  const [w, h] = [2 * width, 2 * height];
  const depth = new Float32Array(w * h).fill(-Infinity);
  const color = new Float32Array(3 * w * h);
  const parts = drawnParts(asset);
  const clouds = parts.map((part) => turnedPoints(transformPoints(part.transform, part.mesh.positions), asset.up));
  const fit = fitTo(clouds, w, h);
  parts.forEach((part, i) => {
    const points = clouds[i]!;
    const t = trianglesOf(part.mesh);
    const uvOf = swatch === undefined ? null : coordinates(part, swatch);
    for (let k = 0; k < t.face.length; k++) {
      const m = part.mesh.faceMaterial[t.face[k]!]!;
      const dye = m === NONE ? ([0.5, 0.42, 0.33] as const) : asset.materials[m]!.color;
      const corner = (n: number): Vec => {
        const v = 3 * part.mesh.cornerVertex[t.corners[3 * k + n]!]!;
        return [points[v]! * fit.scale + fit.dx, fit.dy - points[v + 1]! * fit.scale, points[v + 2]! * fit.scale];
      };
      const uv = uvOf?.(t.face[k]!, t.corners.subarray(3 * k, 3 * k + 3)) ?? null;
      fillTriangle(depth, color, w, h, corner(0), corner(1), corner(2), swatch === undefined ? dye : BARE, uv);
    }
  });
  return downsample(depth, color, width, height);
}

/** Cloth without coordinates, and the two cells of the checker; linear RGB. */
const BARE = [0.45, 0.43, 0.4] as const;
const CELLS = [
  [0.93, 0.88, 0.76],
  [0.27, 0.08, 0.14],
] as const;
/** Cells along a tile's side. */
const ACROSS = 16;

function checker(uv: Float64Array, s: number, t: number): readonly number[] {
  const u = uv[0]! + s * (uv[2]! - uv[0]!) + t * (uv[4]! - uv[0]!);
  const v = uv[1]! + s * (uv[3]! - uv[1]!) + t * (uv[5]! - uv[1]!);
  return CELLS[(Math.floor(u * ACROSS) + Math.floor(v * ACROSS)) & 1]!;
}

/** Coordinates of a face's corners in a set; null where it has none. */
function coordinates(part: DrawnPart, set: UvSetId) {
  const layout = part.layouts.get(set);
  if (!layout) return null;
  const { cornerWedge } = structureOf(part.mesh, layout);
  const out = new Float64Array(6);
  return (face: number, corners: Uint32Array): Float64Array | null => {
    if (!getBit(layout.mapped, face)) return null;
    corners.forEach((c, i) => {
      out.set(layout.uv.subarray(2 * cornerWedge[c]!, 2 * cornerWedge[c]! + 2), 2 * i);
    });
    return out;
  };
}

/** Turned 30 degrees about the upright axis, tipped 18 towards the eye, which looks along -z. */
function turnedPoints(points: Float64Array, up: "y" | "z"): Float64Array {
  const [cy, sy] = [Math.cos(-0.52), Math.sin(-0.52)];
  const [cx, sx] = [Math.cos(0.31), Math.sin(0.31)];
  const out = new Float64Array(points.length);
  for (let i = 0; i < points.length; i += 3) {
    const x = points[i]!;
    const y = up === "y" ? points[i + 1]! : points[i + 2]!;
    const z = up === "y" ? points[i + 2]! : -points[i + 1]!;
    const u = cy * x + sy * z;
    const d = -sy * x + cy * z;
    out[i] = u;
    out[i + 1] = cx * y - sx * d;
    out[i + 2] = sx * y + cx * d;
  }
  return out;
}

function fitTo(clouds: readonly Float64Array[], w: number, h: number): { scale: number; dx: number; dy: number } {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const p of clouds)
    for (let i = 0; i < p.length; i += 3) {
      x0 = Math.min(x0, p[i]!);
      x1 = Math.max(x1, p[i]!);
      y0 = Math.min(y0, p[i + 1]!);
      y1 = Math.max(y1, p[i + 1]!);
    }
  const scale = 0.86 * Math.min(w / (x1 - x0 || 1), h / (y1 - y0 || 1));
  return { scale, dx: w / 2 - ((x0 + x1) / 2) * scale, dy: h / 2 + ((y0 + y1) / 2) * scale };
}

function fillTriangle(
  depth: Float32Array,
  color: Float32Array,
  w: number,
  h: number,
  a: Vec,
  b: Vec,
  c: Vec,
  dye: readonly number[],
  uv: Float64Array | null,
): void {
  const [ux, uy, uz] = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  const [vx, vy, vz] = [c[0] - a[0], c[1] - a[1], c[2] - a[2]];
  const n: Vec = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const length = Math.hypot(...n);
  const area = ux * vy - uy * vx;
  if (!length || !area) return;
  // y runs down on the picture, so a face towards the eye has its normal along -z here.
  const side = n[2] < 0 ? -1 : 1;
  const light = Math.max(0, (side * (-0.45 * n[0] - 0.65 * n[1] + 0.61 * n[2])) / length);
  const shade = 0.35 + 0.75 * light;
  for (
    let y = Math.max(0, Math.floor(Math.min(a[1], b[1], c[1])));
    y < Math.min(h, Math.ceil(Math.max(a[1], b[1], c[1])));
    y++
  ) {
    for (
      let x = Math.max(0, Math.floor(Math.min(a[0], b[0], c[0])));
      x < Math.min(w, Math.ceil(Math.max(a[0], b[0], c[0])));
      x++
    ) {
      const [px, py] = [x + 0.5 - a[0], y + 0.5 - a[1]];
      const s = (px * vy - py * vx) / area;
      const t = (ux * py - uy * px) / area;
      if (s < 0 || t < 0 || s + t > 1) continue;
      const z = a[2] + s * uz + t * vz;
      const at = y * w + x;
      if (z <= depth[at]!) continue;
      depth[at] = z;
      const cloth = uv ? checker(uv, s, t) : dye;
      for (let d = 0; d < 3; d++) color[3 * at + d] = cloth[d]! * shade + 0.02;
    }
  }
}

function downsample(depth: Float32Array, color: Float32Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(4 * width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const sum = [0, 0, 0];
      let hits = 0;
      for (const at of [
        4 * y * width + 2 * x,
        4 * y * width + 2 * x + 1,
        (4 * y + 2) * width + 2 * x,
        (4 * y + 2) * width + 2 * x + 1,
      ]) {
        if (depth[at] === -Infinity) continue;
        hits++;
        for (let d = 0; d < 3; d++) sum[d]! += color[3 * at + d]!;
      }
      const to = 4 * (y * width + x);
      for (let d = 0; d < 3; d++) out[to + d] = hits ? Math.round(255 * Math.min(1, srgbOf(sum[d]! / hits))) : 0;
      out[to + 3] = Math.round((255 * hits) / 4);
    }
  }
  return out;
}
