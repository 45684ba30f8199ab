import type { Kernels } from "../kernels/kernels";
import { BitGrid, type GridPlace } from "./bit-grid";
import { type GridShape, gridShapes, longestRun } from "./grid-shapes";
import { extentOf, type FoundLayout, type Page, type Placement } from "./page";
import { pageGrid } from "./page-grid";
import { placementOn } from "./placed-on-grid";
import type { Item } from "./raster";
import type { Way } from "./ways";

/** What shells are laid on, and how. */
export interface LayOptions {
  readonly page: Page;
  /** How many units of the page a unit of the shells is, at a scale of 1. */
  readonly unit: number;
  /** Least distance of two shells, in units of the page. */
  readonly padding: number;
  /** By shell, the ways it may be put. */
  readonly ways: readonly (readonly Way[])[];
  /** The only scale that is tried; as large as they fit when not given. */
  readonly fixed?: number | undefined;
  /** Shells that stay where they lie. */
  readonly obstacles?: readonly Item[] | undefined;
}

export interface SheetOptions {
  /** Cells along the page's longer side, more or less, a multiple of 64. */
  readonly cells: number;
  /** They are to be put by contact as well. */
  readonly close: boolean;
  /** Where they are rough: what lies about them besides half the padding, cells. */
  readonly rough?: number | undefined;
}

/** Cells that a page has. */
export interface PageCells {
  readonly columns: number;
  readonly rows: number;
}

/** Shells as cells, at a scale, and the page that they are laid on. */
export interface Laying extends PageCells {
  /** As wide as the page, or wider and taken beyond it. The page is open above. */
  readonly grid: BitGrid;
  /** By shell, its turns. */
  readonly shapes: readonly (readonly GridShape[])[];
  /** Cells of the longest run of them. */
  readonly longest: number;
  readonly scale: number;
  /** What it is where shells lie at some places, by shell. @param page of other cells than it has, where shapes stay as they are */
  found(places: readonly GridPlace[], page?: PageCells): FoundLayout;
}

/** A page as cells, on which shells are laid at one scale after another. */
export interface Sheet {
  /** The largest scale there is: where the longest shell just goes across, or the one that is fixed. */
  readonly most: number;
  /** Does something with shells at a scale, or at the next smaller one there is that is larger than one told. */
  at<T>(scale: number, act: (laying: Laying) => T, above?: number): T;
  /** Makes shapes as exact as they are to be at a scale, and larger ones. */
  refine(scale: number): void;
}

/** Open above, so that every order tells by its height how near it is. */
const openAbove = (rows: number): number => 2 * rows + 64;

/** @param look called before each shell is made into cells, throws to stop */
export const sheetOf = (
  kernels: Kernels,
  items: readonly Item[],
  options: LayOptions,
  how: SheetOptions,
  look: () => void,
): Sheet =>
  // What stays does not get larger with the shells.
  options.fixed !== undefined || options.obstacles?.length
    ? new FixedSheet(kernels, items, options, how, look)
    : new SizedSheet(kernels, items, options, how, look);

/** A page of so many cells, on which shells are made into cells anew for each scale. */
class FixedSheet implements Sheet {
  readonly most: number;
  private readonly page: Page;
  private readonly grid: BitGrid;
  private readonly perTile: number;
  private readonly rows: number;
  private readonly padding: number;

  constructor(
    private readonly kernels: Kernels,
    items: readonly Item[],
    private readonly options: LayOptions,
    private readonly how: SheetOptions,
    private readonly look: () => void,
  ) {
    const { page, unit, fixed, obstacles, padding: apart } = options;
    const { cells, rough } = how;
    this.page = rough === undefined ? page : roughPage(options, (rough * Math.max(page.w, page.h)) / cells);
    const pageOptions = { padding: apart, obstacles, rowsFor: openAbove, rough, tall: true };
    const { grid, perTile, top, padding } = pageGrid(kernels, this.page, cells, pageOptions);
    [this.grid, this.perTile, this.rows, this.padding] = [grid, perTile, top, padding];
    this.most = fixed ?? mostOf(items, Math.max(grid.columns, top), perTile * unit);
  }

  at<T>(scale: number, act: (laying: Laying) => T): T {
    const { kernels, options, perTile, page, grid, rows } = this;
    const size = scale * options.unit;
    return kernels.during(() => {
      const shapes = shapesOf(kernels, options, size * perTile, this.padding, this.how, this.look);
      const found = (places: readonly GridPlace[]): FoundLayout => ({
        scale,
        placements: placementsOf(options, shapes, places, { scale: size, perTile, page }),
      });
      return act({ grid, columns: grid.columns, rows, shapes, longest: longestRun(shapes), scale, found });
    });
  }

  refine(): void {}
}

/** How many more cells a page may have than is wanted, and how many fewer: beyond, shells are made into cells anew. */
const [MORE, FEWER] = [1.12, 0.87];
/** How many more cells a page may have without sound shapes coming too near; and once what comes is known to be larger. */
const [WIDE, NARROW] = [1.05, 1.008];
/** Of so few shells it takes longer to take cells than to look for places: rows are not told together. */
const FEW_SHELLS = 12;
/** What rounding may take of a whole number. */
const ROUNDED = 1e-6;

/** Shells as cells, made once: a scale is a page of so many cells, and the fewer they are the larger is each. */
class SizedSheet implements Sheet {
  readonly most: number;
  private readonly grid: BitGrid;
  private shapes: readonly (readonly GridShape[])[] = [];
  private longest = 1;
  /** Cells that a unit of shells is. */
  private perUnit = 0;
  /** Cells along the page's longer side at the most, for these shapes. */
  private mostCells = 0;
  /** Cells about rough shapes besides half the padding, which may reach beyond the page; and the page with half the padding. */
  private readonly rim: number;
  private readonly w: number;
  private readonly h: number;

  constructor(
    private readonly kernels: Kernels,
    items: readonly Item[],
    private readonly options: LayOptions,
    private readonly how: SheetOptions,
    private readonly look: () => void,
  ) {
    const { page, padding, unit } = options;
    const more = how.rough === undefined ? 0 : padding;
    [this.rim, this.w, this.h] = [how.rough ?? 0, page.w + more, page.h + more];
    const { columns, rows } = this.pageOf(Math.ceil(how.cells * MORE));
    this.grid = new BitGrid(kernels, 64 * Math.ceil(columns / 64), openAbove(rows), items.length > FEW_SHELLS);
    this.most = mostOf(items, how.cells, this.perTile(how.cells) * unit);
  }

  at<T>(scale: number, act: (laying: Laying) => T, above = 0): T {
    let cells = this.cellsAt(scale, above);
    if (!(cells <= this.mostCells && cells >= this.how.cells * FEWER)) {
      this.make(scale, WIDE);
      cells = this.cellsAt(scale, above);
    }
    const page = this.pageOf(cells);
    this.grid.narrow(page.columns);
    const { grid, shapes, longest, perUnit } = this;
    // By the shapes as they are now: they may be made anew later.
    const found = (places: readonly GridPlace[], on: PageCells = page) => this.found({ shapes, perUnit }, places, on);
    return act({ ...page, grid, shapes, longest, scale: this.scaleOn(page, perUnit), found });
  }

  refine(scale: number): void {
    this.make(scale, NARROW);
  }

  private make(scale: number, wide: number): void {
    const { kernels, options, how } = this;
    const isRough = how.rough !== undefined;
    const perTile = this.perTile(how.cells);
    this.perUnit = scale * options.unit * perTile;
    this.mostCells = how.cells * (isRough ? MORE : wide);
    // The padding in cells grows with them: sound shapes have what it is at the most.
    const padding = options.padding * perTile * (isRough ? 1 : wide) * (1 + 1e-9);
    this.shapes = shapesOf(kernels, options, this.perUnit, padding, how, this.look);
    this.longest = longestRun(this.shapes);
  }

  /** Cells a unit of the page, where it has so many along its longer side. */
  private perTile = (cells: number): number => (cells - 2 * this.rim) / Math.max(this.w, this.h);
  private pageOf(cells: number): PageCells {
    const cellsIn = (side: number) => Math.floor(side * this.perTile(cells) + 2 * this.rim + ROUNDED);
    return { columns: cellsIn(this.w), rows: cellsIn(this.h) };
  }
  /** Cells along the page's longer side at a scale, or the next smaller one; fewer than for another. */
  private cellsAt(scale: number, above: number): number {
    const cells = (scale: number) =>
      (Math.max(this.w, this.h) * this.perUnit) / (scale * this.options.unit) + 2 * this.rim - ROUNDED;
    return Math.min(Math.ceil(cells(scale)), above ? Math.ceil(cells(above)) - 1 : Infinity);
  }

  /** Cells a unit of the page that has so many. */
  private perUnitOn = ({ columns, rows }: PageCells): number =>
    Math.max((columns - 2 * this.rim) / this.w, (rows - 2 * this.rim) / this.h);
  /** @param perUnit cells that a unit of shells is */
  private scaleOn = (page: PageCells, perUnit: number): number => perUnit / this.perUnitOn(page) / this.options.unit;

  private found(
    { shapes, perUnit }: { readonly shapes: Shapes; readonly perUnit: number },
    places: readonly GridPlace[],
    on: PageCells,
  ): FoundLayout {
    const { options, rim, how } = this;
    const perTile = this.perUnitOn(on);
    const scale = this.scaleOn(on, perUnit);
    const page = how.rough === undefined ? options.page : roughPage(options, rim / perTile);
    return {
      scale,
      placements: placementsOf(options, shapes, places, { scale: scale * options.unit, perTile, page }),
    };
  }
}

type Shapes = readonly (readonly GridShape[])[];

/** The scale at which the longest shell just goes across so many cells. */
const mostOf = (items: readonly Item[], cells: number, perUnit: number): number =>
  (cells - 2) / (Math.max(...items.map(extentOf)) * perUnit || 1);

const shapesOf = (
  kernels: Kernels,
  { ways }: LayOptions,
  side: number,
  padding: number,
  { close, rough }: SheetOptions,
  look: () => void,
): GridShape[][] =>
  ways.map((own) => {
    look();
    return gridShapes(kernels, own, side, padding, { close, rough });
  });

const placementsOf = (
  { ways }: LayOptions,
  shapes: Shapes,
  places: readonly GridPlace[],
  size: { readonly scale: number; readonly perTile: number; readonly page: Page },
): Placement[] => places.map((put, i) => placementOn(put, shapes[i]![put.turn]!, ways[i]!, size));

/** A page with what lies about rough shapes, which may reach beyond it. @param more besides half the padding */
function roughPage({ page, padding }: LayOptions, more: number): Page {
  const rim = padding / 2 + more;
  return { ...page, u0: page.u0 - rim, v0: page.v0 - rim, w: page.w + 2 * rim, h: page.h + 2 * rim };
}
