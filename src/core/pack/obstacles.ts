import type { BitGrid } from "./bit-grid";
import type { Page } from "./page";
import { boundsOf, type Item, rasterise, rasteriseMiddles } from "./raster";

/** An obstacle wider than this many tiles is taken triangle by triangle, so that no frame grows beyond measure. */
const WIDEST = 2;

/**
 * Takes the cells that lie nearer than the padding to a shell that stays where it lies.
 *
 * @param perTile cells a tile @param padding in cells @param from where the sheet begins
 * @param rough whether a cell counts by its middle, beside rough shapes; any part of it counts otherwise
 */
export function takeObstacle(
  grid: BitGrid,
  item: Item,
  perTile: number,
  padding: number,
  from: Pick<Page, "u0" | "v0">,
  rough = false,
): void {
  const { u0, v0, u1, v1 } = boundsOf(item);
  const reach = padding / perTile;
  const [across, up] = [grid.columns / perTile + from.u0, grid.rows / perTile + from.v0];
  if (u1 < from.u0 - reach || v1 < from.v0 - reach || u0 > across + reach || v0 > up + reach) return;
  if (Math.max(u1 - u0, v1 - v0) > WIDEST && item.triangles.length > 6) {
    for (let i = 0; i < item.triangles.length; i += 6)
      takeObstacle(grid, triangleItem(item.triangles.subarray(i, i + 6)), perTile, padding, from, rough);
    return;
  }
  // One triangle over many tiles: it may cover all of this one.
  if (Math.max(u1 - u0, v1 - v0) > 8 * WIDEST) {
    grid.takeCells(new Uint8Array(grid.columns * grid.rows).fill(1), grid.columns, grid.rows, 0, 0);
    return;
  }
  const [x, y] = [(u0 - from.u0) * perTile, (v0 - from.v0) * perTile];
  const cells = rough ? rasteriseMiddles : rasterise;
  const { grown, w, h, pad } = cells(item, perTile, padding, [x - Math.floor(x), y - Math.floor(y)]);
  grid.takeCells(grown, w, h, Math.floor(x) - pad, Math.floor(y) - pad);
}

function triangleItem(t: Float64Array): Item {
  const [a, b, c, d, e, f] = t as unknown as [number, number, number, number, number, number];
  return { triangles: t, outline: Float64Array.of(a, b, c, d, c, d, e, f, e, f, a, b) };
}
