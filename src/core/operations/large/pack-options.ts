import type { FirstTiles, GroupedBy, Places, Search, Sizes, Turns } from "../../layout/pack-wishes";

/** How shells are packed; texels. What is not given is as the operation has it, but the search, which is quick then. */
export interface PackOptions {
  /** That of the tiles when not given. */
  readonly resolution?: number | undefined;
  readonly padding: number;
  /** The padding when not given. */
  readonly margin?: number | undefined;
  readonly turns: Turns;
  /** Degrees. */
  readonly step?: number | undefined;
  readonly mirrored?: boolean | undefined;
  readonly sizes?: Sizes | undefined;
  /** What kept or levelled sizes are multiplied by. */
  readonly scale?: number | undefined;
  readonly search?: Search | undefined;
  readonly into?: "tiles" | "plots" | undefined;
  readonly tiles?: string | undefined;
  /** Which shells the first of several tiles or plots get. */
  readonly first?: FirstTiles | undefined;
  readonly groups?: GroupedBy | undefined;
  readonly apart?: "blocks" | "tiles" | undefined;
  readonly places?: Places | undefined;
  readonly begin?: "anew" | "as they lie" | undefined;
  /** Shells that stand upright are not turned. */
  readonly keepUpright?: boolean | undefined;
  /** Shells that lie exactly on one another are packed as one; else every shell gets a place of its own. */
  readonly keepStacks?: boolean | undefined;
}
