import type { Kernels } from "../kernels/kernels";
import { BitGrid } from "./bit-grid";
import { takeObstacle } from "./obstacles";
import type { Page } from "./page";
import type { Item } from "./raster";

/** A page as cells, with what stays on it. */
export interface PageGrid {
  readonly grid: BitGrid;
  /** Cells a unit of the page. */
  readonly perTile: number;
  /** Rows that lie on the page: the grid may have more above. */
  readonly top: number;
  /** The padding in cells, a little more than it is: rounding takes none of it. */
  readonly padding: number;
}

export interface PageGridOptions {
  /** In units of the page. */
  readonly padding: number;
  readonly obstacles?: readonly Item[] | undefined;
  /** How many rows the grid gets where that many are on the page. */
  readonly rowsFor?: (top: number) => number;
  /** What lies about rough shapes besides half the padding, cells; not given where shapes keep every gap. */
  readonly rough?: number | undefined;
  /** Many places are looked for before any cells are freed. */
  readonly tall?: boolean;
}

/**
 * Lays a page out as cells.
 *
 * @param cells along the page's longer side, a multiple of 64
 */
export function pageGrid(
  kernels: Kernels,
  page: Page,
  cells: number,
  { padding, obstacles = [], rowsFor = (top) => top, rough, tall }: PageGridOptions,
): PageGrid {
  const columns = 64 * Math.ceil((cells * page.w) / Math.max(page.w, page.h) / 64);
  const perTile = columns / page.w;
  const top = Math.floor(page.h * perTile * (1 + 1e-12));
  const apart = padding * perTile * (1 + 1e-9);
  const grid = new BitGrid(kernels, columns, rowsFor(top), tall);
  // Rough shapes have half the padding about them, and what stays has the other half.
  const about = rough === undefined ? apart : apart / 2 + rough;
  for (const item of obstacles) takeObstacle(grid, item, perTile, about, page, rough !== undefined);
  if (obstacles.length) grid.keep();
  return { grid, perTile, top, padding: apart };
}
