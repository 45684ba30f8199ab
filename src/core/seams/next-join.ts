import { type Bits, clearBit, getBit } from "../layout/bits";
import { facesOfShell, type Layout, structureOf } from "../layout/layout";
import type { Edge, Shell } from "../mesh/indices";
import { edgeFaceCount } from "../mesh/topology";
import { groupsOf } from "../select/groups";
import { flagsAt } from "../select/grow";
import type { Bounds } from "./draft-piece";
import type { SeamField } from "./seam-field";
import type { Weighed } from "./shorten";

/** A border in one piece between two shells. */
export interface Border {
  readonly shells: readonly [Shell, Shell];
  /** Ascending. */
  readonly edges: Uint32Array;
  /** World length. */
  readonly length: number;
}

/** A border that can be joined, and the mean stretch of what comes of it. */
export interface Join extends Border {
  readonly energy: number;
}

/** Borders between some shells, each in one piece, the longest first. @param mayJoin whether a seam may be taken off */
export function sharedBorders(
  { mesh, topology: t, length }: SeamField,
  layout: Layout,
  shells: Iterable<Shell>,
  mayJoin: (edge: number) => boolean,
): Border[] {
  const s = structureOf(mesh, layout);
  const meant = new Set(shells);
  const byPair = new Map<string, { shells: [Shell, Shell]; edges: number[] }>();
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2 || !getBit(layout.cut, e)) continue;
    const k = t.edgeCornerStart[e]!;
    const sides = [0, 1].map((side) => s.faceShell[t.cornerFace[t.edgeCorners[k + side]!]!]!) as [Shell, Shell];
    if (sides[0] === sides[1] || !meant.has(sides[0]) || !meant.has(sides[1]) || !mayJoin(e)) continue;
    sides.sort((a, b) => a - b);
    const pair = byPair.get(sides.join()) ?? { shells: sides, edges: [] };
    pair.edges.push(e);
    byPair.set(sides.join(), pair);
  }
  return [...byPair.values()]
    .flatMap(({ shells: both, edges }) =>
      groupsOf(mesh, "edges", flagsAt(Uint32Array.from(edges), t.edgeCount)).map((own) => ({
        shells: both,
        edges: own,
        length: own.reduce((sum, e) => sum + length[e]!, 0),
      })),
    )
    .sort((a, b) => b.length - a.length || a.edges[0]! - b.edges[0]!);
}

/** How many borders that can be joined are compared: the longest ones. */
const COMPARED = 4;
/** What all the stretch that is allowed weighs against the longest border. */
const STRETCH = 0.5;

type Weigh = (faces: Uint32Array, cut: Bits, bounds: Bounds) => Promise<Weighed | null>;

/**
 * The border to join next: of the longest ones that keep within bounds that with the most length for its stretch. Where
 * none can be joined whole, as that of a cap and its tube, the longest edge of one, as a hinge.
 *
 * @param weigh lays faces flat, as they are cut; null when they cannot be within the bounds
 */
export async function bestJoin(
  field: SeamField,
  layout: Layout,
  borders: readonly Border[],
  bounds: Bounds,
  weigh: Weigh,
): Promise<Join | null> {
  const whole = await joinsOf(field, layout, borders, bounds, weigh);
  if (whole.length) return mostWorth(whole, bounds);
  const { length } = field;
  const hinges = borders.flatMap(({ shells, edges }) => {
    const longest = edges.reduce((a, b) => (length[b]! > length[a]! ? b : a));
    return edges.length > 1 ? [{ shells, edges: Uint32Array.of(longest), length: length[longest]! }] : [];
  });
  return mostWorth(await joinsOf(field, layout, hinges, bounds, weigh), bounds);
}

/** The first few borders that can be joined. */
async function joinsOf(
  { mesh }: SeamField,
  layout: Layout,
  borders: readonly Border[],
  bounds: Bounds,
  weigh: Weigh,
): Promise<Join[]> {
  const s = structureOf(mesh, layout);
  const joins: Join[] = [];
  for (const border of borders) {
    if (joins.length === COMPARED) break;
    const faces = border.shells.flatMap((shell) => [...facesOfShell(s, shell)]);
    const cut = layout.cut.slice();
    for (const e of border.edges) clearBit(cut, e);
    const weighed = await weigh(Uint32Array.from(faces).sort(), cut, bounds);
    if (weighed) joins.push({ ...border, energy: weighed.energy });
  }
  return joins;
}

function mostWorth(joins: readonly Join[], { limit }: Bounds): Join | null {
  const longest = joins[0]?.length ?? 1;
  const worth = ({ length, energy }: Join) => length / longest - (STRETCH * Math.max(0, energy - 1)) / (limit - 1);
  return joins.reduce<Join | null>((best, join) => (best && worth(best) >= worth(join) ? best : join), null);
}
