import { withKernels } from "../kernels/kernels";
import { EFFORTS } from "../layout/pack-wishes";
import { type GridPlace, gridShapes } from "./bit-grid";
import { type FoundLayout, type OrderOptions, OrderSearch, openAbove, type Start, triesFor } from "./order-search";
import type { Page } from "./page";
import { pageGrid } from "./page-grid";
import { placementOn } from "./placed-on-grid";
import type { Item } from "./raster";
import { type Laid, Repacking } from "./repack";

/** What lies about a shape besides half the padding, cells. */
const MORE = 0.3;
/** How rough shapes are tried. */
interface RoughSheet {
  /** Along the longer side. */
  readonly cells: number;
  /** How many times as many orders as in the search for one. */
  readonly tries: number;
  /** Changes of a layout in a quick search, and for an effort of 1 more. */
  readonly quick: number;
  readonly changes: number;
}
const DRAFT: RoughSheet = { cells: 512, tries: 1, quick: 0, changes: 0 };
const FEW: RoughSheet = { cells: 512, tries: 5, quick: 1250, changes: 16_000 };
const SOME: RoughSheet = { cells: 1024, tries: 3, quick: 0, changes: 6500 };
const MANY: RoughSheet = { ...SOME, tries: 1 };
/** Up to how many shells are few, and some. */
const [FEW_SHELLS, SOME_SHELLS] = [60, 150];
/** That of a quick search. */
const QUICK = EFFORTS.quick.effort;
/** Of more shells than these a change takes longer: fewer are tried. */
const CHANGED_SHELLS = 400;
/** The share of the time that an order takes, where layouts are changed then. */
const ORDERED = 0.25;

/** How many changes of a layout are tried. */
const changesFor = ({ quick, changes }: RoughSheet, effort: number, shells: number): number =>
  Math.ceil(
    ((quick * Math.min(effort, QUICK)) / QUICK + changes * Math.max(0, effort - QUICK)) *
      Math.min(1, CHANGED_SHELLS / shells),
  );

const sheetFor = (shells: number): RoughSheet => (shells <= FEW_SHELLS ? FEW : shells <= SOME_SHELLS ? SOME : MANY);

export interface RoughOptions extends OrderOptions {
  /** The share of the changes that are tried, all where it is not given: those that come first are the same. */
  readonly repacked?: number | undefined;
}

/**
 * Looks for an order as searchOrder does, of rough shapes: shells may come to lie nearer than the padding by less than a
 * cell, and less is lost between them. What comes of it is repacked, a few shells at a time. It is for what is settled then.
 */
export function searchRoughly(
  items: readonly Item[],
  options: RoughOptions,
  onStep: (share: number) => void,
  onBest: (found: FoundLayout) => void,
): void {
  const { effort, obstacles, repacked = 1 } = options;
  const rough = !effort ? DRAFT : sheetFor(items.length);
  // What stays does not get larger with the shells.
  const changes = obstacles?.length ? 0 : Math.ceil(repacked * changesFor(rough, effort, items.length));
  let told = 0;
  const tell = (found: FoundLayout): void => {
    if (found.scale <= told) return;
    told = found.scale;
    onBest(found);
  };
  const ordered = withKernels((kernels) => {
    const sheet = { cells: rough.cells, page: grownPage(options, rough), rough: MORE };
    const step = (share: number) => onStep(changes ? ORDERED * share : share);
    return new OrderSearch(kernels, items, options, sheet, tell, step).run(
      null,
      triesFor(items.length, 0, effort * rough.tries),
    );
  });
  if (!changes || !ordered.scale) return;
  repack(options, rough, ordered, changes, (share) => onStep(ORDERED + (1 - ORDERED) * share), tell);
}

/** Repacks what an order led to. */
function repack(
  options: OrderOptions,
  rough: RoughSheet,
  { order, worth, scale }: Start,
  changes: number,
  onStep: (share: number) => void,
  onBest: (found: FoundLayout) => void,
): void {
  const { padding, unit, ways, seed = 0 } = options;
  withKernels((kernels) => {
    const sheet = pageGrid(kernels, grownPage(options, rough), rough.cells, { padding, rowsFor: openAbove });
    const { grid, perTile, top: rows } = sheet;
    const shapes = ways.map((own) => {
      onStep(0);
      return gridShapes(kernels, own, scale * perTile * unit, sheet.padding, { close: worth > 0, rough: MORE });
    });
    const places: GridPlace[] = new Array(order.length);
    for (const i of order) {
      const put = worth ? grid.putClose(shapes[i]!, rows, worth) : grid.put(shapes[i]!, rows);
      if (!put) return;
      places[i] = put;
    }
    const tell = (laid: Laid): void => {
      // The fewer cells the page has, the larger they are, and shells with them.
      const now = cellsPerUnit(options, laid);
      const size = { scale: (scale * unit * perTile) / now, perTile: now, page: roughPage(options, MORE / now) };
      onBest({
        scale: size.scale / unit,
        placements: laid.places.map((put, i) => placementOn(put, shapes[i]![put.turn]!, ways[i]!, size)),
      });
    };
    const start = { columns: grid.columns, rows, places };
    new Repacking(grid, shapes, start, seed + 1, onStep, tell).run(changes);
  });
}

/** A page with what lies about rough shapes, which may reach beyond it. @param more besides half the padding */
function roughPage({ page, padding }: OrderOptions, more: number): Page {
  const rim = padding / 2 + more;
  return { ...page, u0: page.u0 - rim, v0: page.v0 - rim, w: page.w + 2 * rim, h: page.h + 2 * rim };
}
const grownPage = (options: OrderOptions, { cells }: RoughSheet): Page =>
  roughPage(options, (MORE * Math.max(options.page.w, options.page.h)) / cells);

/** Cells a unit of the page is where so many columns and rows lie within it, with what lies about rough shapes. */
const cellsPerUnit = ({ page, padding }: OrderOptions, { columns, rows }: Laid): number =>
  Math.max((columns - 2 * MORE) / (page.w + padding), (rows - 2 * MORE) / (page.h + padding));
