import type { Asset } from "../../layout/asset";
import { type PlacedShape, placedShape, withLayouts } from "../../layout/asset";
import { carryLayouts } from "../../layout/carry";
import { type Layout, layoutFromCorners } from "../../layout/layout";
import { UserError } from "../../layout/user-error";
import { faceCount } from "../../mesh/poly-mesh";
import { turnedOver } from "../../transfer/carry-over";
import { matchMeshes } from "../../transfer/match";
import { layBySurface } from "../../transfer/nearest-surface";
import type { EditContext, EditResult, Note, Scope } from "../operation";
import { shapesInScope } from "../scope";
import { count } from "../words";

/** Copies the layout of one part to others: joined alike, numbered otherwise or mirrored, or merely near in shape. */
export function run(
  asset: Asset,
  scope: Scope,
  { from, way }: { readonly from: string; readonly way: "best" | "connectivity" | "surface" },
  context: EditContext,
): EditResult {
  const found = asset.parts.find((p) => p.id === from || p.name === from);
  if (!found) throw new UserError("Say which part's layout is to be copied.");
  const source = placedShape(asset, found.shape);
  const layout = source.layouts.get(scope.set);
  if (!layout) throw new UserError(`${source.name} has no layout in this UV set.`);
  if (!scope.selection && !scope.picked) throw new UserError("Pick the parts that are to get the layout.");
  const targets = shapesInScope(asset, scope).filter((p) => p.id !== source.id);
  if (!targets.length) throw new UserError("Pick another part than the one that is copied.");
  const notes: Note[] = [];
  const changes = targets.flatMap((shape, i) => {
    context.progress(i / targets.length);
    const made = transferred(source, layout, shape, way);
    if (!made) {
      notes.push({
        words: `${shape.name} has a different topology from ${source.name} and was not changed.`,
        shells: [],
      });
      return [];
    }
    if (made.way === "surface" && way === "best")
      notes.push({
        words: `${shape.name} has a different topology and got its coordinates from the nearest surface.`,
        shells: [],
      });
    return [{ shape: shape.id, set: scope.set, layout: made.layout }];
  });
  if (!changes.length) throw new UserError(notes[0]!.words);
  return {
    asset: withLayouts(asset, changes),
    words: `Transfer ${source.name} to ${count(changes.length, "part")}`,
    notes,
  };
}

function transferred(
  source: PlacedShape,
  layout: Layout,
  shape: PlacedShape,
  way: string,
): { layout: Layout; way: string } | null {
  const match = way === "surface" ? null : matchMeshes(source.mesh, shape.mesh);
  if (match) {
    const carried = carryLayouts(shape.mesh, [{ mesh: source.mesh, layout, corner: match.corner }]);
    return { layout: turnedOver(shape.mesh, carried, match.mirrored), way: "connectivity" };
  }
  if (way === "connectivity") return null;
  const uv = new Float64Array(2 * shape.mesh.cornerVertex.length).fill(Number.NaN);
  const faces = Array.from({ length: faceCount(shape.mesh) }, (_, f) => f);
  layBySurface(
    { mesh: source.mesh, layout, places: source.mesh.positions },
    shape.mesh,
    fitted(source, shape),
    faces,
    uv,
  );
  return { layout: layoutFromCorners(shape.mesh, uv), way: "surface" };
}

/** The target's places moved so that the middles of both boxes meet: a copy may stand elsewhere in its own space. */
function fitted(source: PlacedShape, shape: PlacedShape): Float64Array {
  const [a, b] = [middle(source.mesh.positions), middle(shape.mesh.positions)];
  return shape.mesh.positions.map((x, i) => x + a[i % 3]! - b[i % 3]!);
}

function middle(p: Float64Array): [number, number, number] {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < p.length; i++) {
    low[i % 3] = Math.min(low[i % 3]!, p[i]!);
    high[i % 3] = Math.max(high[i % 3]!, p[i]!);
  }
  return low.map((x, i) => (x + high[i]!) / 2) as [number, number, number];
}
