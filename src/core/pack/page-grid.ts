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

/**
 * Lays a page out as cells.
 *
 * @param cells along the page's longer side, a multiple of 64 @param padding in units of the page
 * @param rowsFor how many rows the grid gets where that many are on the page
 */
export function pageGrid(
  kernels: Kernels,
  page: Page,
  cells: number,
  padding: number,
  obstacles: readonly Item[] = [],
  rowsFor: (top: number) => number = (top) => top,
): PageGrid {
  const columns = 64 * Math.ceil((cells * page.w) / Math.max(page.w, page.h) / 64);
  const perTile = columns / page.w;
  const top = Math.floor(page.h * perTile * (1 + 1e-12));
  const apart = padding * perTile * (1 + 1e-9);
  const grid = new BitGrid(kernels, columns, rowsFor(top));
  for (const item of obstacles) takeObstacle(grid, item, perTile, apart, page);
  if (obstacles.length) grid.keep();
  return { grid, perTile, top, padding: apart };
}
