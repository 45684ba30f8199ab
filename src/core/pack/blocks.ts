import type { PageFound, PagePacking } from "./pack-page";
import { areaOf, type Page } from "./page";
import { boundsOf, type Item } from "./raster";

/** Packs one page, here or on a worker. */
export type PackOne = (items: readonly Item[], packing: PagePacking, watch?: PageWatch) => Promise<PageFound | null>;
export interface PageWatch {
  /** Told the share done. @throws Stopped */
  readonly step?: (share: number) => void;
  /** Told of what was reached. */
  readonly best?: (placements: PageFound["placements"]) => void;
}

/** Shells of one group in a rectangle of their own. */
export interface Block {
  readonly page: Page;
  readonly members: readonly number[];
  readonly found: PageFound;
}

export interface BlockOptions extends Omit<PagePacking, "page" | "unit" | "effort" | "work" | "start"> {
  readonly page: Page;
  readonly unit: number;
  readonly effort: number;
  readonly work: number;
  /** Told that another group was packed, of how many. */
  readonly onStep: (done: number, of: number) => void;
  /** Told of every group that lies where it may stay. */
  readonly onBlock: (block: Block) => void;
}

/**
 * How a page is cut: in two across its longer side, and each half again; all of it in rows or columns; or one group is cut
 * off first, as a column or a row of its own.
 */
type Cut = "longer" | "rows" | "columns" | { readonly first: number; readonly across: boolean };
/** More groups than these are not cut off one by one. */
const FEW_GROUPS = 8;

/** The ways in which a page is tried to be cut for some groups. */
const cutsFor = (groups: number): Cut[] => [
  "longer",
  "rows",
  "columns",
  ...(groups > 2 && groups <= FEW_GROUPS
    ? Array.from({ length: 2 * groups }, (_, k) => ({ first: k >> 1, across: k % 2 === 0 }))
    : []),
];
/** How often the page is shared out anew by what each group needed, with every kind of cut. */
const SHARED_OUT = 5;
/**
 * The scale of a group goes by the root of its area where it fills its rectangle, and by the area itself where its longest shell
 * just goes in: this power of what lacks is off by as little for both.
 */
const CORRECTED = 4 / 3;
/** A cut that comes to no more than this of the best is given up: sharing out anew does not bring as much. */
const NO_BETTER = 0.7;
/** Where a group does not fit at the scale of all, that is made smaller by this, so often. */
const [SMALLER, TIMES] = [0.995, 60];

/**
 * Shares a page out among groups, in rectangles by halving, and packs each group into its own: all shells at one scale.
 *
 * @param groups the members of each @returns null where they do not fit
 */
export async function packBlocks(
  items: readonly Item[],
  groups: readonly (readonly number[])[],
  options: BlockOptions,
  packOne: PackOne,
): Promise<{ readonly blocks: readonly Block[]; readonly scale: number; readonly stopped: boolean } | null> {
  // What goes to workers is data alone.
  const { onStep, onBlock, ...plain } = options;
  const { padding, fixed } = plain;
  const own = groups.map((members) => members.map((i) => items[i]!));
  const cuts = cutsFor(groups.length);
  const steps = groups.length * (cuts.length * SHARED_OUT + 2);
  let done = 0;
  const pack = async (g: number, rectangle: Page, packing: Partial<PagePacking>) => {
    onStep(Math.min(steps, ++done), steps);
    const page = within(rectangle, options.page, padding / 2);
    if (page.w <= 0 || page.h <= 0) return null;
    return packOne(own[g]!, { ...plain, ...packing, page });
  };
  let best: { rectangles: Page[]; scale: number } | null = null;
  for (const cut of cuts) {
    let needs = own.map((list) => grownArea(list, padding / options.unit));
    for (let turn = 0; turn < SHARED_OUT; turn++) {
      const rectangles = halved(options.page, needs, cut);
      const scales = await Promise.all(
        rectangles.map(async (r, g) => (await pack(g, r, { fixed: undefined, effort: 0, work: 0 }))?.scale ?? 0),
      );
      const scale = Math.min(...scales);
      if (scale > (best?.scale ?? 0)) best = { rectangles, scale };
      if (turn && best && scale < NO_BETTER * best.scale) break;
      const most = Math.max(...scales);
      // What a group would need to come to the same scale as the others.
      needs = rectangles.map(({ w, h }, g) => w * h * (most / (scales[g] || most / 4)) ** CORRECTED);
    }
  }
  if (!best || (fixed !== undefined && best.scale < fixed)) return null;
  for (let [scale, turn] = [fixed ?? best.scale, 0]; turn < TIMES; turn++, scale *= SMALLER) {
    const all = await Promise.all(
      best.rectangles.map(async (page, g): Promise<Block[]> => {
        const found = await pack(g, page, { fixed: scale });
        if (!found) return [];
        const block = { page, members: groups[g]!, found };
        onBlock(block);
        return [block];
      }),
    );
    const blocks = all.flat();
    if (blocks.length === groups.length) return { blocks, scale, stopped: blocks.some(({ found }) => found.stopped) };
    if (fixed !== undefined) return null;
  }
  return null;
}

/** Room that shells take with half of the padding about each. */
function grownArea(items: readonly Item[], padding: number): number {
  let area = areaOf(items);
  for (const item of items) {
    const { u0, v0, u1, v1 } = boundsOf(item);
    area += (u1 - u0 + v1 - v0) * padding;
  }
  return area;
}

/** A rectangle without half of the padding at those of its sides that other rectangles lie beside. */
function within(r: Page, page: Page, half: number): Page {
  const near = 1e-9;
  const left = r.u0 > page.u0 + near ? half : 0;
  const low = r.v0 > page.v0 + near ? half : 0;
  const right = r.u0 + r.w < page.u0 + page.w - near ? half : 0;
  const high = r.v0 + r.h < page.v0 + page.h - near ? half : 0;
  return { ...r, u0: r.u0 + left, v0: r.v0 + low, w: r.w - left - right, h: r.h - low - high };
}

/** Rectangles that fill a page, in proportion to what each needs: it is cut in two, and each half again. */
export function halved(page: Page, needs: readonly number[], cut: Cut = "longer"): Page[] {
  const out: Page[] = new Array(needs.length);
  const one = typeof cut === "object" ? cut : null;
  const share = (rectangle: Page, members: readonly number[]): void => {
    if (members.length === 1) {
      out[members[0]!] = rectangle;
      return;
    }
    const total = members.reduce((sum, i) => sum + needs[i]!, 0);
    let [count, sum] = [0, 0];
    // As near to halves as the order allows, with some on either side.
    const alone = one !== null && members.length === needs.length;
    if (alone) sum += needs[members[count++]!]!;
    while (
      !alone &&
      count < members.length - 1 &&
      (!count || Math.abs(sum + needs[members[count]!]! - total / 2) <= Math.abs(sum - total / 2))
    )
      sum += needs[members[count++]!]!;
    const part = sum / total;
    const { u0, v0, w, h } = rectangle;
    const across = alone ? one.across : cut === "columns" || (cut !== "rows" && w > h);
    const [begins, ends] = across
      ? [
          { ...rectangle, w: w * part },
          { ...rectangle, u0: u0 + w * part, w: w * (1 - part) },
        ]
      : // What comes first lies on top, where reading begins.
        [
          { ...rectangle, v0: v0 + h * (1 - part), h: h * part },
          { ...rectangle, h: h * (1 - part), v0 },
        ];
    share(begins, members.slice(0, count));
    share(ends, members.slice(count));
  };
  const order = needs.map((_, i) => i).sort((a, b) => needs[b]! - needs[a]! || a - b);
  if (one) order.unshift(...order.splice(order.indexOf(one.first), 1));
  if (order.length) share(page, order);
  return out;
}
