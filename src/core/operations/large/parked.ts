import { byRatio, commonDensity, shellAreas } from "../../density/level";
import type { Asset, PlacedShape, UvSetId } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { facesOfShell, type Layout, structureOf } from "../../layout/layout";
import { parkBeside } from "../../layout/park";
import { wedgesOfShell } from "../../layout/shell-points";
import type { Shell } from "../../mesh/indices";

/** Layouts beside which shells are laid. */
export interface Staying {
  readonly shape: PlacedShape;
  readonly layout: Layout;
  /** Shells that do not count, as they are laid anew. */
  readonly but?: ReadonlySet<Shell>;
}

/**
 * Points of shells laid beside those that are there, at the density that is common to them; where none is they fill most of the first tile.
 *
 * @param shells points in lengths of space, 2 numbers each
 */
export function parkedBeside(
  asset: Asset,
  set: UvSetId,
  there: readonly Staying[],
  shells: readonly Float64Array[],
): Float64Array[] {
  const areas = there.flatMap(({ shape, layout, but }) =>
    shellAreas(shape, layout, byRatio(asset, set, shape.id)).filter((a) => !but?.has(a.shell)),
  );
  return parkBeside(shells, areas.length ? commonDensity(areas) : null, areas.length ? boundsOf(there) : null);
}

/** How far to the right, and how far down, coordinates go; at least over the first tile. */
function boundsOf(there: readonly Staying[]): { u1: number; v0: number } {
  let [u1, v0] = [1, 0];
  for (const { shape, layout, but } of there) {
    const { mesh } = shape;
    const s = structureOf(mesh, layout);
    for (let shell = 0 as Shell; shell < s.shellCount; shell++) {
      if (but?.has(shell) || !getBit(layout.mapped, facesOfShell(s, shell)[0]!)) continue;
      for (const w of wedgesOfShell(mesh, layout, shell)) {
        u1 = Math.max(u1, layout.uv[2 * w]!);
        v0 = Math.min(v0, layout.uv[2 * w + 1]!);
      }
    }
  }
  return { u1, v0 };
}
