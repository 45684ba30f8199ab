import { type Asset, type PlacedShape, withLayouts } from "../../layout/asset";
import { type Bits, countBits, sameBits } from "../../layout/bits";
import { withBits } from "../../layout/layout";
import type { Scope } from "../operation";
import { layoutOf, shapesInScope } from "../scope";

/** The seams of shapes with more. */
export interface ProposedSeams {
  readonly asset: Asset;
  /** How many edges became seams. */
  readonly added: number;
}

/**
 * Sets seams on the shapes of a scope; those that are there stay.
 *
 * @param seamsOf bits of the edges that are to be seams, for a shape and the seams it has
 */
export function withProposedSeams(
  asset: Asset,
  scope: Scope,
  seamsOf: (shape: PlacedShape, cut: Bits) => Bits,
): ProposedSeams {
  let added = 0;
  const changes = shapesInScope(asset, scope).flatMap((shape) => {
    const layout = layoutOf(shape, scope.set);
    const bits = seamsOf(shape, layout.cut).slice();
    for (let i = 0; i < bits.length; i++) bits[i]! |= layout.cut[i]!;
    if (sameBits(bits, layout.cut)) return [];
    added += countBits(bits) - countBits(layout.cut);
    return [{ shape: shape.id, set: scope.set, layout: withBits(shape.mesh, layout, bits) }];
  });
  return { asset: withLayouts(asset, changes), added };
}
