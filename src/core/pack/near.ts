import { withKernels } from "../kernels/kernels";
import { type GridShape, gridShapes } from "./grid-shapes";
import { areaOf, type Page, type Placement, placedItem, STAYS } from "./page";
import { pageGrid } from "./page-grid";
import { placementOn } from "./placed-on-grid";
import { boundsOf, type Item } from "./raster";
import { Settling } from "./settle";
import { beyond, missing, tooNear } from "./verify";
import { type WayOptions, waysOf } from "./ways";

export interface NearOptions extends WayOptions {
  readonly page: Page;
  readonly unit: number;
  readonly scale: number;
  /** Units of the page. */
  readonly padding: number;
  readonly obstacles?: readonly Item[] | undefined;
}

/** Cells along the longer side of the page. */
const CELLS = 1024;

/** Places of items in a list, the largest first. */
export function largestFirst(items: readonly Item[]): number[] {
  const areas = items.map((item) => areaOf([item]));
  return items.map((_, i) => i).sort((a, b) => areas[b]! - areas[a]! || a - b);
}

/**
 * Puts shells at a scale as near as there is room to where they are wanted, one after another.
 *
 * @param wanted by shell, where the middle of its box is to lie @param order of the shells
 * @returns null where one finds no room
 */
export function placeNear(
  items: readonly Item[],
  wanted: readonly (readonly [u: number, v: number])[],
  options: NearOptions,
  order: readonly number[] = largestFirst(items),
  onStep: () => void = () => {},
): Placement[] | null {
  const { page, unit, scale, padding, obstacles = [] } = options;
  return withKernels((kernels) => {
    const { grid, perTile, padding: apart } = pageGrid(kernels, page, CELLS, { padding, obstacles });
    const out: Placement[] = new Array(items.length);
    for (const i of order) {
      onStep();
      const placed = kernels.during(() => {
        const ways = waysOf(items[i]!, options);
        const shapes = gridShapes(kernels, ways, scale * unit * perTile, apart);
        const corners = shapes.map((shape) => cornerFor(shape, wanted[i]!, page, perTile));
        // As it stands, where that is possible; turned before it is given up.
        const as = grid.putNear(shapes.slice(0, 1), corners) ?? grid.putNear(shapes, corners);
        return as && placementOn(as, shapes[as.turn]!, ways, { scale: scale * unit, perTile, page });
      });
      if (!placed) return null;
      out[i] = placed;
    }
    return out;
  });
}

/** Where the lower left corner of a shape lies when the middle of its box is where it is wanted, in cells. */
const cornerFor = (
  { w, h }: GridShape,
  [u, v]: readonly [number, number],
  page: Page,
  perTile: number,
): readonly [number, number] => [
  Math.round((u - page.u0) * perTile - w / 2),
  Math.round((v - page.v0) * perTile - h / 2),
];

/** What is moved at once beside those that must be, when they find no room: more each time. */
const RELEASED = [0, 3, 10, 30, 100, Infinity];

/**
 * Moves as few shells as lie too near to others, or beyond the page, to the nearest free places; others make room where there
 * is none.
 *
 * @param items where they lie @returns by shell where it goes, STAYS for most; null where there is no room
 */
export function moveLeast(
  items: readonly Item[],
  options: Omit<NearOptions, "scale" | "unit">,
  onStep: () => void = () => {},
): Placement[] | null {
  const { page, padding, obstacles = [] } = options;
  const must = mustMove(items, page, padding, obstacles);
  if (!must.size) return items.map(() => STAYS);
  const middles = items.map(middleOf);
  const others = nearestTo(must, middles);
  for (const count of RELEASED) {
    const list = [...must, ...others.slice(0, count)];
    const meant = new Set(list);
    const own = list.map((i) => items[i]!);
    const staying = [...obstacles, ...items.filter((_, i) => !meant.has(i))];
    const wanted = list.map((i) => middles[i]!);
    const how = { ...options, unit: 1, scale: 1, obstacles: staying };
    const placed = (count && pushedApart(own, staying, how, onStep)) || placeNear(own, wanted, how, undefined, onStep);
    if (placed) {
      const out: Placement[] = items.map(() => STAYS);
      list.forEach((i, k) => {
        out[i] = placed[k]!;
      });
      return out;
    }
    if (list.length === items.length) break;
  }
  return null;
}

/** What is aimed at beyond the padding, of a page, where others do not look back: what rasters tell of them is rough. */
const ASIDE = [0, 0.0005, 0.001];

/** Pushes some aside from where they lie, as far as that needs and no farther; null where they do not come apart. */
function pushedApart(
  own: readonly Item[],
  staying: readonly Item[],
  { page, padding }: NearOptions,
  onStep: () => void,
): Placement[] | null {
  const near = staying.filter((item) => own.some((o) => areNear(boundsOf(item), boundsOf(o), REACH + padding)));
  const quarters = own.map(() => 1);
  const stay = own.map(() => STAYS);
  for (const more of ASIDE) {
    const options = { page, unit: 1, padding, quarters, free: false, work: Infinity, seed: 0, more, obstacles: near };
    const placed = withKernels((kernels) => new Settling(kernels, own, options, stay, onStep, () => {}).pushedApart());
    if (!placed) return null;
    const lie = own.map((item, i) => placedItem(item, placed[i]!));
    if (!missing(lie, page, padding, staying)) return placed.map((p, i) => (isStill(own[i]!, p) ? STAYS : p));
  }
  return null;
}

/** How far from shells others are looked at that may be in their way, tiles. */
const REACH = 0.1;
type Bounds = ReturnType<typeof boundsOf>;
const areNear = (a: Bounds, b: Bounds, far: number): boolean =>
  a.u0 < b.u1 + far && b.u0 < a.u1 + far && a.v0 < b.v1 + far && b.v0 < a.v1 + far;

/** Whether a placement leaves an item where it is, but for what rounding makes of it. */
function isStill(item: Item, { du, dv }: Placement): boolean {
  const { u0, v0, u1, v1 } = boundsOf(item);
  return Math.hypot(du, dv) < 1e-6 * Math.max(1, u1 - u0, v1 - v0);
}

const middleOf = (item: Item): readonly [number, number] => {
  const { u0, v0, u1, v1 } = boundsOf(item);
  return [(u0 + u1) / 2, (v0 + v1) / 2];
};

/** Shells that cannot stay: those beyond the page or too near to what stays, and the smaller of two that are too near. */
function mustMove(items: readonly Item[], page: Page, padding: number, obstacles: readonly Item[]): Set<number> {
  const out = new Set<number>();
  items.forEach((item, i) => {
    if (beyond(item, page)) out.add(i);
  });
  const pairs: Array<[number, number]> = [];
  tooNear([...items, ...obstacles], items.length, padding, (a, b) => {
    if (b >= items.length) out.add(a);
    else pairs.push([a, b]);
  });
  const areas = items.map((item) => areaOf([item]));
  for (const [a, b] of pairs) if (!out.has(a) && !out.has(b)) out.add(areas[a]! < areas[b]! ? a : b);
  return out;
}

/** All other shells, those nearest to some first. */
function nearestTo(some: ReadonlySet<number>, middles: readonly (readonly [number, number])[]): number[] {
  const far = middles.map(([u, v]) => {
    let least = Infinity;
    for (const k of some) least = Math.min(least, Math.hypot(u - middles[k]![0], v - middles[k]![1]));
    return least;
  });
  return middles
    .map((_, i) => i)
    .filter((i) => !some.has(i))
    .sort((a, b) => far[a]! - far[b]! || a - b);
}
