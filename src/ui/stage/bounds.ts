import type { Asset, PartId, ShapeId } from "@/core/layout/asset";
import type { PolyMesh } from "@/core/mesh/poly-mesh";
import type { Mat4 } from "@/core/mesh/transform";
import type { ElementSet } from "@/core/select/element-set";

/** Least and greatest of each coordinate. */
export interface Box {
  readonly low: readonly [number, number, number];
  readonly high: readonly [number, number, number];
}

export const middleOf = ({ low, high }: Box): [number, number, number] =>
  low.map((x, i) => (x + high[i]!) / 2) as [number, number, number];

/** Of the sphere about the box; 1 where it has no size. */
export const radiusOf = ({ low, high }: Box): number => Math.hypot(...low.map((x, i) => high[i]! - x)) / 2 || 1;

class BoxMaker {
  private readonly low: [number, number, number] = [Infinity, Infinity, Infinity];
  private readonly high: [number, number, number] = [-Infinity, -Infinity, -Infinity];

  add(x: number, y: number, z: number): void {
    const { low, high } = this;
    if (x < low[0]) low[0] = x;
    if (x > high[0]) high[0] = x;
    if (y < low[1]) low[1] = y;
    if (y > high[1]) high[1] = y;
    if (z < low[2]) low[2] = z;
    if (z > high[2]) high[2] = z;
  }

  addVertex(m: Mat4, p: Float64Array, v: number): void {
    const [x, y, z] = [p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!];
    this.add(
      m[0]! * x + m[4]! * y + m[8]! * z + m[12]!,
      m[1]! * x + m[5]! * y + m[9]! * z + m[13]!,
      m[2]! * x + m[6]! * y + m[10]! * z + m[14]!,
    );
  }

  done(): Box | null {
    return this.low[0] > this.high[0] ? null : { low: this.low, high: this.high };
  }
}

const kept = new WeakMap<PolyMesh, Map<Mat4, Box | null>>();

function boxUnder(mesh: PolyMesh, transform: Mat4): Box | null {
  const own = kept.get(mesh) ?? new Map<Mat4, Box | null>();
  kept.set(mesh, own);
  const known = own.get(transform);
  if (known !== undefined) return known;
  const box = new BoxMaker();
  for (let v = 0; 3 * v < mesh.positions.length; v++) box.addVertex(transform, mesh.positions, v);
  own.set(transform, box.done());
  return box.done();
}

const UNIT: Box = { low: [-1, -1, -1], high: [1, 1, 1] };

/** The box about all parts, or all but the hidden ones; where there are none, about the origin. */
export function boundsOf(asset: Asset, hidden?: ReadonlySet<PartId>): Box {
  const box = new BoxMaker();
  for (const part of asset.parts) {
    if (hidden?.has(part.id)) continue;
    const own = boxUnder(asset.shapes.get(part.shape)!.mesh, part.transform);
    if (!own) continue;
    box.add(...own.low);
    box.add(...own.high);
  }
  return box.done() ?? UNIT;
}

/** The box about some faces, on the first part of each shape that is shown; null for none. */
export function boundsOfFaces(
  asset: Asset,
  hidden: ReadonlySet<PartId>,
  faces: ReadonlyMap<ShapeId, ElementSet>,
): Box | null {
  const box = new BoxMaker();
  const seen = new Set<ShapeId>();
  for (const { id, shape, transform } of asset.parts) {
    const own = faces.get(shape);
    if (!own || hidden.has(id) || seen.has(shape)) continue;
    seen.add(shape);
    const { mesh } = asset.shapes.get(shape)!;
    own.each((f) => {
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
        box.addVertex(transform, mesh.positions, mesh.cornerVertex[c]!);
    });
  }
  return box.done();
}

/** Points of an asset that are looked at for how much room it takes on the screen. */
const MOST_POINTS = 6000;

/** World positions of some vertices, spread over all parts but the hidden ones: 3 numbers each. */
export function somePoints(asset: Asset, hidden: ReadonlySet<PartId>): Float64Array {
  const parts = asset.parts.filter((p) => !hidden.has(p.id));
  const sizeOf = (shape: ShapeId) => asset.shapes.get(shape)!.mesh.positions.length / 3;
  const total = parts.reduce((n, p) => n + sizeOf(p.shape), 0);
  const step = Math.max(1, Math.ceil(total / MOST_POINTS));
  const out: number[] = [];
  for (const { shape, transform: m } of parts) {
    const p = asset.shapes.get(shape)!.mesh.positions;
    for (let i = 0; i < p.length; i += 3 * step) {
      const [x, y, z] = [p[i]!, p[i + 1]!, p[i + 2]!];
      for (let d = 0; d < 3; d++) out.push(m[d]! * x + m[4 + d]! * y + m[8 + d]! * z + m[12 + d]!);
    }
  }
  return Float64Array.from(out);
}

/** The eight corners of a box, 3 numbers each. */
export const cornersOf = ({ low, high }: Box): Float64Array =>
  Float64Array.from({ length: 24 }, (_, i) => ((Math.floor(i / 3) >> (i % 3)) & 1 ? high : low)[i % 3]!);
