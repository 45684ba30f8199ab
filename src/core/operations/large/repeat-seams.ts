import { type Asset, type PlacedShape, partById, placedShape, shapesOf, withLayouts } from "../../layout/asset";
import { type Bits, countBits, getBit } from "../../layout/bits";
import { carryLayouts } from "../../layout/carry";
import { emptyLayout, withBits } from "../../layout/layout";
import { UserError } from "../../layout/user-error";
import { topologyOf } from "../../mesh/topology";
import { matchMeshes } from "../../transfer/match";
import type { EditContext, EditResult, Scope } from "../operation";
import { layoutOf, partsInScope } from "../scope";
import { count } from "../words";
import { withSeams } from "./with-seams";

/** Repeats the seams of the picked part on every other shape in view that is joined alike. */
export function run(asset: Asset, scope: Scope, _: unknown, context: EditContext): EditResult {
  if (!scope.picked && !scope.selection) throw new UserError("Pick the part whose seams are to be repeated.");
  const picked = new Set(partsInScope(asset, scope).map((part) => part.shape));
  if (picked.size > 1) throw new UserError("Pick one part: its seams are repeated on all that are like it.");
  const source = placedShape(asset, [...picked][0]!);
  const { cut } = layoutOf(source, scope.set);
  if (!countBits(cut)) throw new UserError(`${source.name} has no seams yet.`);
  const visible = new Set(scope.parts.map((id) => partById(asset, id).shape));
  const others = shapesOf(asset).filter((shape) => shape.id !== source.id && visible.has(shape.id));
  let twins = 0;
  const changes = others.flatMap((shape, i) => {
    context.progress(i / others.length);
    const wanted = seamsOn(source, cut, shape);
    if (!wanted) return [];
    twins++;
    const layout = layoutOf(shape, scope.set);
    const edges = Array.from({ length: topologyOf(shape.mesh).edgeCount }, (_, e) => e);
    const differ = edges.filter((e) => getBit(wanted, e) !== getBit(layout.cut, e));
    if (!differ.length) return [];
    const change = {
      cut: Uint32Array.from(differ.filter((e) => getBit(wanted, e))),
      join: Uint32Array.from(differ.filter((e) => !getBit(wanted, e))),
    };
    return [{ shape: shape.id, set: scope.set, layout: withSeams(shape, layout, change) }];
  });
  if (!twins) throw new UserError(`No other part in view is joined like ${source.name}.`);
  if (!changes.length) throw new UserError(`All that are like ${source.name} have its seams already.`);
  return {
    asset: withLayouts(asset, changes),
    words: `Repeat the seams of ${source.name} on ${count(changes.length, "part")}`,
    notes: [],
  };
}

/** The seams of one mesh on another; null where they are not joined alike. */
function seamsOn(source: PlacedShape, cut: Bits, shape: PlacedShape): Bits | null {
  const match = matchMeshes(source.mesh, shape.mesh);
  if (!match) return null;
  // Without coordinates: seams alone are carried over.
  const layout = withBits(source.mesh, emptyLayout(source.mesh), cut);
  return carryLayouts(shape.mesh, [{ mesh: source.mesh, layout, corner: match.corner }]).cut;
}
