import type { GridPlace } from "./bit-grid";
import type { GridShape } from "./grid-shapes";
import { after, type Page, type Placement } from "./page";
import { boundsOf } from "./raster";
import type { Way } from "./ways";

const TURNED = [
  [1, 0],
  [0, 1],
  [-1, 0],
  [0, -1],
] as const;

/**
 * From the place of a shape in cells to that of its shell on the sheet.
 *
 * @param size how many units of the page a unit of the shell is, and how many cells a unit of the page
 */
export function placementOn(
  put: GridPlace,
  shape: GridShape,
  ways: readonly Way[],
  { scale, perTile, page }: { readonly scale: number; readonly perTile: number; readonly page: Page },
): Placement {
  const { pad, w, h } = shape.frame;
  const { item, by } = ways[shape.way]!;
  const { u0, v0 } = boundsOf(item);
  // Where the origin lies in the frame; a point of it goes, by quarters: (x, y), (h - y, x), (w - x, h - y), (y, w - x).
  const x = pad - u0 * scale * perTile;
  const y = pad - v0 * scale * perTile;
  const [cx, cy] = [[x, y] as const, [h - y, x] as const, [w - x, h - y] as const, [y, w - x] as const][shape.quarter]!;
  const [c, s] = TURNED[shape.quarter]!;
  const du = page.u0 + (put.x + shape.x + cx) / perTile;
  const dv = page.v0 + (put.y + shape.y + cy) / perTile;
  return after(by, { xx: c * scale, xy: -s * scale, yx: s * scale, yy: c * scale, du, dv });
}
