import { withKernels } from "../kernels/kernels";
import { EFFORTS } from "../layout/pack-wishes";
import { BitGrid } from "./bit-grid";
import { type OrderOptions, OrderSearch, triesFor } from "./order-search";
import type { FoundLayout } from "./page";
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
  /** Of how many shells the one that fits best is chosen, for an effort of 1 more than that of a quick search: more by its cube; 0 for none. */
  readonly among: number;
}
/** Changes of a draft of few: of more they do not tell. */
const DRAFT_CHANGES = 500;
const DRAFT: RoughSheet = { cells: 512, tries: 1, quick: 0, changes: 0, among: 0 };
const FEW: RoughSheet = { cells: 512, tries: 5, quick: 1250, changes: 16_000, among: 0 };
const SOME: RoughSheet = { cells: 1024, tries: 3, quick: 1000, changes: 6500, among: 0 };
const MANY: RoughSheet = { ...SOME, tries: 1, quick: 0 };
const MOST: RoughSheet = { ...MANY, among: 12 };
/** Up to how many shells are few, some, and many: of more an order of their own is hardly ever better. */
const [FEW_SHELLS, SOME_SHELLS, MANY_SHELLS] = [60, 150, 400];
/** That of a quick search. */
const QUICK = EFFORTS.quick.effort;
/** Of more shells than these a change takes longer: fewer are tried. */
const CHANGED_SHELLS = 400;
/** The share of the time that an order takes, where layouts are changed then. */
const ORDERED = 0.25;

/** How many changes of a layout are tried. */
const changesFor = ({ quick, changes }: RoughSheet, effort: number, shells: number): number => {
  if (!effort) return shells <= FEW_SHELLS ? DRAFT_CHANGES : 0;
  return Math.ceil(
    ((quick * Math.min(effort, QUICK)) / QUICK + changes * Math.max(0, effort - QUICK)) *
      Math.min(1, CHANGED_SHELLS / shells),
  );
};

const amongFor = ({ among }: RoughSheet, effort: number): number => Math.ceil(among * Math.max(0, effort - QUICK) ** 3);

const sheetFor = (shells: number): RoughSheet =>
  shells <= FEW_SHELLS ? FEW : shells <= SOME_SHELLS ? SOME : shells <= MANY_SHELLS ? MANY : MOST;

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
  const { effort, obstacles, fixed, repacked = 1 } = options;
  const rough = !effort ? DRAFT : sheetFor(items.length);
  // What stays does not get larger with the shells, and what has one size need not.
  const changes =
    obstacles?.length || fixed !== undefined ? 0 : Math.ceil(repacked * changesFor(rough, effort, items.length));
  let told = 0;
  const tell = (found: FoundLayout): void => {
    if (found.scale <= told) return;
    told = found.scale;
    onBest(found);
  };
  withKernels((kernels) => {
    const step = (share: number) => onStep(changes ? ORDERED * share : share);
    const among = amongFor(rough, effort);
    const search = new OrderSearch(kernels, items, options, { cells: rough.cells, rough: MORE, among }, tell, step);
    const tries = among > 1 ? 0 : triesFor(items.length, 0, effort * rough.tries);
    const { laid } = search.run(null, tries);
    if (!changes || !laid) return;
    const { shapes, grid, columns, rows, found } = laid.laying;
    const look = (share: number) => onStep(ORDERED + (1 - ORDERED) * share);
    const tellLaid = ({ places, ...page }: Laid): void => tell(found(places, page));
    const start = { columns, rows, places: laid.places };
    const own = new BitGrid(kernels, grid.columns, rows);
    new Repacking(own, shapes, start, (options.seed ?? 0) + 1, look, tellLaid).run(changes);
  });
}
