import { type Kernels, withKernels } from "../kernels/kernels";
import { gridShapes } from "./grid-shapes";
import { areaOf, type Page, type Placement } from "./page";
import { pageGrid } from "./page-grid";
import { placementOn } from "./placed-on-grid";
import { boundsOf, type Item } from "./raster";
import type { Way } from "./ways";

export interface FillOptions {
  readonly ways: readonly (readonly Way[])[];
  /** By page, units of it that a unit of the shells is, at a scale of 1. */
  readonly units: readonly number[];
  /** Least distance of two shells, texels. */
  readonly padding: number;
  readonly scale: number;
  readonly obstacles?: readonly Item[] | undefined;
  /** By shell, the group it belongs to, where each group begins a page of its own: those that are worth most first, then in the order of their numbers. */
  readonly groups?: readonly number[] | undefined;
  /** By shell, what it is worth: those that are worth most come first, else the largest. */
  readonly worth?: readonly number[] | undefined;
}

/** Where shells lie that were laid on one page after another. */
export interface Filled {
  readonly placements: readonly Placement[];
  /** By shell, the page it lies on. */
  readonly pages: readonly number[];
}

/** Cells along the longer side of a page. */
const CELLS = 1024;
/** After so many that found no place in a row, those that are larger than half of the last are left for the next page. */
const FAILURES = 12;

/**
 * Lays shells on one page after another at a scale, those worth most and the largest first, each as low as it goes.
 *
 * @param onStep told how many are laid @returns null where the pages do not hold them
 */
export function fillPages(
  items: readonly Item[],
  pages: readonly Page[],
  options: FillOptions,
  onStep: (laid: number) => void,
): Filled | null {
  const areas = items.map((item) => {
    const { u0, v0, u1, v1 } = boundsOf(item);
    return areaOf([item]) * Math.hypot(u1 - u0, v1 - v0);
  });
  const groups = options.groups ?? items.map(() => 0);
  const byGroup = new Map<number, number[]>();
  const worth = options.worth ?? items.map(() => 0);
  const order = items.map((_, n) => n).sort((a, b) => worth[b]! - worth[a]! || areas[b]! - areas[a]! || a - b);
  for (const i of order) {
    const own = byGroup.get(groups[i]!);
    if (own) own.push(i);
    else byGroup.set(groups[i]!, [i]);
  }
  const placements: Placement[] = new Array(items.length);
  const on: number[] = new Array(items.length);
  let page = 0;
  let laid = 0;
  const worthOf = (group: number) => Math.max(...byGroup.get(group)!.map((i) => worth[i]!));
  for (const group of [...byGroup.keys()].sort((a, b) => worthOf(b) - worthOf(a) || a - b)) {
    let left = byGroup.get(group)!;
    while (left.length) {
      if (page >= pages.length) return null;
      const number = page++;
      const rest = fillPage(left, areas, pages[number]!, options.units[number]!, options, (i, placement) => {
        placements[i] = placement;
        on[i] = number;
        onStep(++laid);
      });
      // What has no place on an empty page has none anywhere, unless a page to come is larger.
      left = rest;
    }
  }
  return { placements, pages: on };
}

/** Lays on a page what goes there. @returns those that found no place */
function fillPage(
  order: readonly number[],
  areas: readonly number[],
  page: Page,
  unit: number,
  { ways, padding, scale, obstacles = [] }: FillOptions,
  onLaid: (shell: number, placement: Placement) => void,
): number[] {
  return withKernels((kernels: Kernels) => {
    const apart = padding / page.texels;
    const { grid, perTile, top, padding: cells } = pageGrid(kernels, page, CELLS, { padding: apart, obstacles });
    const left: number[] = [];
    let failed = 0;
    let largest = Infinity;
    for (const shell of order) {
      if (areas[shell]! > largest) {
        left.push(shell);
        continue;
      }
      const laid = kernels.during(() => {
        const shapes = gridShapes(kernels, ways[shell]!, scale * unit * perTile, cells);
        const put = grid.put(shapes, top);
        if (!put) return false;
        const size = { scale: scale * unit, perTile, page };
        onLaid(shell, placementOn(put, shapes[put.turn]!, ways[shell]!, size));
        return true;
      });
      failed = laid ? 0 : failed + 1;
      if (!laid) left.push(shell);
      if (failed < FAILURES) continue;
      largest = areas[shell]! / 2;
      failed = 0;
    }
    return left;
  });
}
