import type { Page } from "./page";

/**
 * How a page is cut: in two across its longer side, and each half again; all of it in rows or columns; or one group is cut
 * off first, as a column or a row of its own.
 */
export type Cut = "longer" | "rows" | "columns" | { readonly first: number; readonly across: boolean };

/** More groups than these are not cut off one by one. */
const FEW_GROUPS = 8;

/** The ways in which a page is tried to be cut for some groups. */
export const cutsFor = (groups: number): Cut[] => [
  "longer",
  "rows",
  "columns",
  ...(groups > 2 && groups <= FEW_GROUPS
    ? Array.from({ length: 2 * groups }, (_, k) => ({ first: k >> 1, across: k % 2 === 0 }))
    : []),
];

/** Rectangles that fill a page, one for each of some groups, in proportion to what it needs. */
export function sharedPage(page: Page, needs: readonly number[], cut: Cut): Page[] {
  const out: Page[] = new Array(needs.length);
  const sum = (members: readonly number[]) => members.reduce((all, i) => all + needs[i]!, 0);
  const part = (rectangle: Page, some: readonly number[], others: readonly number[], across: boolean) =>
    cutInTwo(rectangle, sum(some) / (sum(some) + sum(others)), across);
  const share = (rectangle: Page, members: readonly number[]): void => {
    if (members.length === 1) {
      out[members[0]!] = rectangle;
      return;
    }
    const count = nearestToHalf(members.map((i) => needs[i]!));
    const [some, others] = [members.slice(0, count), members.slice(count)];
    const across = cut === "columns" || (cut !== "rows" && rectangle.w > rectangle.h);
    const [begins, ends] = part(rectangle, some, others, across);
    share(begins, some);
    share(ends, others);
  };
  const order = needs.map((_, i) => i).sort((a, b) => needs[b]! - needs[a]! || a - b);
  if (typeof cut === "string") share(page, order);
  else {
    const others = order.filter((i) => i !== cut.first);
    const [own, rest] = part(page, [cut.first], others, cut.across);
    out[cut.first] = own;
    share(rest, others);
  }
  return out;
}

/** How many of the first come as near to half of all as the order allows, with some on either side. */
function nearestToHalf(needs: readonly number[]): number {
  const half = needs.reduce((a, b) => a + b, 0) / 2;
  let [count, sum] = [1, needs[0]!];
  while (count < needs.length - 1 && Math.abs(sum + needs[count]! - half) <= Math.abs(sum - half))
    sum += needs[count++]!;
  return count;
}

/** Two rectangles, the first with a share of the area: on the left, or on top, where reading begins. */
function cutInTwo(rectangle: Page, share: number, across: boolean): [Page, Page] {
  const { u0, v0, w, h } = rectangle;
  return across
    ? [
        { ...rectangle, w: w * share },
        { ...rectangle, u0: u0 + w * share, w: w * (1 - share) },
      ]
    : [
        { ...rectangle, v0: v0 + h * (1 - share), h: h * share },
        { ...rectangle, h: h * (1 - share), v0 },
      ];
}
