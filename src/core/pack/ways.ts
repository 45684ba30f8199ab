import { smallestBoxAngle } from "../layout/orient";
import type { Turns } from "../layout/pack-wishes";
import { type Placement, placedItem, STAYS } from "./page";
import type { Item } from "./raster";

export type Quarter = 0 | 1 | 2 | 3;

/** A shell turned or mirrored as it may be packed, and the quarters by which it may be turned from there. */
export interface Way {
  readonly item: Item;
  readonly by: Placement;
  readonly quarters: readonly Quarter[];
}

export interface WayOptions {
  readonly turns: Turns;
  /** Degrees, where turns are by steps. */
  readonly step?: number | undefined;
  /** Whether shells may be mirrored. */
  readonly mirrored?: boolean | undefined;
}

const QUARTERS: Readonly<Record<Turns, readonly Quarter[]>> = {
  none: [0],
  halves: [0, 2],
  quarters: [0, 1, 2, 3],
  steps: [0, 1, 2, 3],
  free: [0, 1, 2, 3],
};
const MIRROR: Placement = { xx: -1, xy: 0, yx: 0, yy: 1, du: 0, dv: 0 };
/** A turn of less than this is none. */
const NO_TURN = 1e-6;

const turnBy = (degrees: number): Placement => {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return { xx: c, xy: -s, yx: s, yy: c, du: 0, dv: 0 };
};

/** The ways in which a shell is tried, as it stands first. One that stands is not turned. */
export function waysOf(item: Item, { turns, step = 15, mirrored }: WayOptions): Way[] {
  const upright: Way[] = item.stands
    ? [{ item, by: STAYS, quarters: [0] }]
    : anglesOf(item, turns, step).map(({ degrees, quarters }) =>
        way(item, degrees ? turnBy(degrees) : STAYS, quarters),
      );
  if (!mirrored) return upright;
  return [
    ...upright,
    ...upright.map(({ by, quarters, item: turned }) => {
      const mirror = placedItem(turned, MIRROR);
      return { item: mirror, by: { ...by, xx: -by.xx, xy: -by.xy }, quarters };
    }),
  ];
}

const way = (item: Item, by: Placement, quarters: readonly Quarter[]): Way => ({
  item: by === STAYS ? item : placedItem(item, by),
  by,
  quarters,
});

function anglesOf(item: Item, turns: Turns, step: number): Array<{ degrees: number; quarters: readonly Quarter[] }> {
  const quarters = QUARTERS[turns];
  if (turns === "steps") {
    // What quarters lead to is not turned to on its own.
    const whole = Math.abs(90 / step - Math.round(90 / step)) < NO_TURN;
    const count = Math.round((whole ? 90 : 360) / step);
    return Array.from({ length: Math.max(1, count) }, (_, k) => ({
      degrees: k * step,
      quarters: whole ? quarters : ([0] as const),
    }));
  }
  const stays = { degrees: 0, quarters };
  if (turns !== "free") return [stays];
  // Most fit best with their longest side along the page's.
  const degrees = (smallestBoxAngle(item.outline) * 180) / Math.PI;
  return Math.abs(degrees / 90 - Math.round(degrees / 90)) < NO_TURN ? [stays] : [stays, { degrees, quarters }];
}
