import { partById, type ShapeId, shapeById } from "@/core/layout/asset";
import { getBit } from "@/core/layout/bits";
import { structureOf } from "@/core/layout/layout";
import { multiply } from "@/core/mesh/transform";
import { trianglesOf } from "@/core/mesh/triangulate";
import { layoutOf } from "@/core/operations/scope";
import type { Pane } from "../session/store";
import type { Pointed, Surface } from "./picker";

/** The point of the sheet that is seen at a point of a pane, u and v; null where nothing with coordinates is seen. */
export function uvAt(
  pane: Pane,
  surface: Surface,
  now: Pointed,
  x: number,
  y: number,
): readonly [number, number] | null {
  const matrix = surface.pixelMatrix();
  if (pane === "sheet") return [(x - matrix[12]!) / matrix[0]!, (y - matrix[13]!) / matrix[5]!];
  const seen = surface.faceAt(x, y);
  if (!seen) return null;
  const part = partById(now.asset, seen.part);
  const shape = shapeById(now.asset, part.shape);
  const layout = layoutOf(shape, now.set);
  if (!getBit(layout.mapped, seen.face)) return null;
  const { cornerWedge } = structureOf(shape.mesh, layout);
  const { corners, faceStart } = trianglesOf(shape.mesh);
  const m = multiply(matrix, part.transform);
  let best: readonly [number, number] | null = null;
  let least = Infinity;
  for (let k = faceStart[seen.face]!; k < faceStart[seen.face + 1]!; k++) {
    const places = [0, 1, 2].map((i) =>
      pixelOf(m, shape.mesh.positions, shape.mesh.cornerVertex[corners[3 * k + i]!]!),
    );
    const weights = weightsIn(places, x, y);
    // How far outside the triangle it lies: the one it lies in, or nearest to, is meant.
    const outside = Math.max(...weights.map((w) => -w));
    if (!(outside < least)) continue;
    least = outside;
    // What is further away counts for less: straight in space is not straight in shares of pixels.
    const shares = weights.map((w, i) => w / places[i]![2]!);
    const sum = shares.reduce((a, b) => a + b, 0);
    const at = (d: number) =>
      shares.reduce((s, share, i) => s + (share / sum) * layout.uv[2 * cornerWedge[corners[3 * k + i]!]! + d]!, 0);
    best = [at(0), at(1)];
  }
  return best;
}

/** Where a vertex appears: x and y in pixels, and its depth w. */
function pixelOf(m: readonly number[], p: Float64Array, v: number): [number, number, number] {
  const [x, y, z] = [p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!];
  const w = m[3]! * x + m[7]! * y + m[11]! * z + m[15]!;
  return [(m[0]! * x + m[4]! * y + m[8]! * z + m[12]!) / w, (m[1]! * x + m[5]! * y + m[9]! * z + m[13]!) / w, w];
}

/** Barycentric weights of a point in a triangle of pixels. */
function weightsIn(t: ReadonlyArray<readonly [number, number, number]>, x: number, y: number): number[] {
  const [a, b, c] = [t[0]!, t[1]!, t[2]!];
  const area = (b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1]);
  const of = ([px, py]: readonly number[], [qx, qy]: readonly number[]) =>
    ((px! - x) * (qy! - y) - (qx! - x) * (py! - y)) / area;
  return [of(b, c), of(c, a), of(a, b)];
}

/** A shell that lies at a point of the sheet, by the face that does. */
export interface Under {
  readonly shape: ShapeId;
  readonly face: number;
}

/** The shells that lie at a point of the sheet, each by its face there, those drawn last first. In time linear in triangles. */
export function shellsUnder({ asset, set, hidden }: Pointed, u: number, v: number): Under[] {
  const out: Under[] = [];
  const done = new Set<ShapeId>();
  for (const part of asset.parts) {
    if (hidden.has(part.id) || done.has(part.shape)) continue;
    done.add(part.shape);
    const shape = shapeById(asset, part.shape);
    const layout = layoutOf(shape, set);
    const { cornerWedge, faceShell } = structureOf(shape.mesh, layout);
    const t = trianglesOf(shape.mesh);
    const { uv } = layout;
    const seen = new Set<number>();
    for (let k = 0; k < t.face.length; k++) {
      const face = t.face[k]!;
      if (!getBit(layout.mapped, face) || seen.has(faceShell[face]!)) continue;
      const a = 2 * cornerWedge[t.corners[3 * k]!]!;
      const b = 2 * cornerWedge[t.corners[3 * k + 1]!]!;
      const c = 2 * cornerWedge[t.corners[3 * k + 2]!]!;
      const p = (uv[a]! - u) * (uv[b + 1]! - v) - (uv[b]! - u) * (uv[a + 1]! - v);
      const q = (uv[b]! - u) * (uv[c + 1]! - v) - (uv[c]! - u) * (uv[b + 1]! - v);
      const r = (uv[c]! - u) * (uv[a + 1]! - v) - (uv[a]! - u) * (uv[c + 1]! - v);
      if (!((p >= 0 && q >= 0 && r >= 0) || (p <= 0 && q <= 0 && r <= 0))) continue;
      seen.add(faceShell[face]!);
      out.push({ shape: part.shape, face });
    }
  }
  return out.reverse();
}
