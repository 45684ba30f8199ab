import { boundsOf, type Item } from "./raster";

/** A rectangle of the sheet that shells are packed into: a tile or a part of one, without the border that is kept free. */
export interface Page {
  readonly u0: number;
  readonly v0: number;
  /** In tiles, across and upright. */
  readonly w: number;
  readonly h: number;
  /** Texels a tile. */
  readonly texels: number;
}

/**
 * A bound on how many shells there is room for, which needs no trial: discs of half the padding about a point of each do not
 * overlap, and lie within the page grown by half the padding. Of the padding squared, what each takes: pi / 4, a little less.
 */
export const ROOM_EACH = 0.78;
/** The area of a page grown by half the padding; none where it has none. @param padding in tiles */
export const roomOf = ({ w, h }: Page, padding: number): number => (w > 0 && h > 0 ? (w + padding) * (h + padding) : 0);

/** Where an item goes: (u, v) goes to (xx u + xy v + du, yx u + yy v + dv). */
export interface Placement {
  readonly xx: number;
  readonly xy: number;
  readonly yx: number;
  readonly yy: number;
  readonly du: number;
  readonly dv: number;
}

/** Where shells lie that fit a page together, at a scale. */
export interface FoundLayout {
  readonly scale: number;
  readonly placements: readonly Placement[];
}

/** Where a placement takes a point. */
export const applyPlacement = (p: Placement, u: number, v: number): [number, number] => [
  p.xx * u + p.xy * v + p.du,
  p.yx * u + p.yy * v + p.dv,
];

/** How large a placement makes what it places. */
export const scaleOf = (p: Placement): number => Math.sqrt(Math.abs(p.xx * p.yy - p.xy * p.yx));

/** An item where a placement puts it. */
export const placedItem = (item: Item, p: Placement): Item => ({
  ...item,
  triangles: moved(item.triangles, p),
  outline: moved(item.outline, p),
});

export function moved(points: Float64Array, { xx, xy, yx, yy, du, dv }: Placement): Float64Array {
  const out = new Float64Array(points.length);
  for (let i = 0; i < points.length; i += 2) {
    const [u, v] = [points[i]!, points[i + 1]!];
    out[i] = xx * u + xy * v + du;
    out[i + 1] = yx * u + yy * v + dv;
  }
  return out;
}

/** One placement after another. */
export const after = (first: Placement, then: Placement): Placement => ({
  xx: then.xx * first.xx + then.xy * first.yx,
  xy: then.xx * first.xy + then.xy * first.yy,
  yx: then.yx * first.xx + then.yy * first.yx,
  yy: then.yx * first.xy + then.yy * first.yy,
  du: then.xx * first.du + then.xy * first.dv + then.du,
  dv: then.yx * first.du + then.yy * first.dv + then.dv,
});

export const STAYS: Placement = { xx: 1, xy: 0, yx: 0, yy: 1, du: 0, dv: 0 };

/** The area of shells, triangle by triangle. */
export function areaOf(items: readonly Item[]): number {
  let area = 0;
  for (const { triangles: q } of items)
    for (let i = 0; i < q.length; i += 6)
      area +=
        Math.abs((q[i + 2]! - q[i]!) * (q[i + 5]! - q[i + 1]!) - (q[i + 4]! - q[i]!) * (q[i + 3]! - q[i + 1]!)) / 2;
  return area;
}

/** The length of the outlines of shells. */
export function lengthOf(items: readonly Item[]): number {
  let length = 0;
  for (const { outline: o } of items)
    for (let i = 0; i < o.length; i += 4) length += Math.hypot(o[i + 2]! - o[i]!, o[i + 3]! - o[i + 1]!);
  return length;
}

/** The longer side of the box about each. */
export const extentOf = (item: Item): number => {
  const { u0, v0, u1, v1 } = boundsOf(item);
  return Math.max(u1 - u0, v1 - v0);
};

/** Numbers by which a placement travels. */
const SIZE = 6;

/** Placements as numbers, behind their scale. */
export function flatPlacements(scale: number, placements: readonly Placement[]): Float64Array {
  const out = new Float64Array(1 + SIZE * placements.length);
  out[0] = scale;
  placements.forEach((p, i) => {
    out.set([p.xx, p.xy, p.yx, p.yy, p.du, p.dv], 1 + SIZE * i);
  });
  return out;
}

export function placementsOf(flat: Float64Array): Placement[] {
  return Array.from({ length: (flat.length - 1) / SIZE }, (_, i) => {
    const [xx, xy, yx, yy, du, dv] = flat.subarray(1 + SIZE * i, 1 + SIZE * (i + 1));
    return { xx: xx!, xy: xy!, yx: yx!, yy: yy!, du: du!, dv: dv! };
  });
}
