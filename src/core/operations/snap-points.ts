import { z } from "zod";
import { shapesOf, withLayouts } from "../layout/asset";
import { getBit } from "../layout/bits";
import { withPoints } from "../layout/layout";
import { SNAPS, SnapTargets } from "../layout/snap-targets";
import { UserError } from "../layout/user-error";
import type { EditOperation } from "./operation";
import { pickedPoints } from "./picked-points";
import { layoutOf } from "./scope";
import { count } from "./words";

const options = z.object({
  to: z.enum(SNAPS).default("points").meta({
    title: "To",
    description: "Other points, borders of shells, edges of tiles, or lines of the grid, eight to a tile",
  }),
  within: z.number().min(1e-6).max(1).default(0.01).meta({
    title: "Within",
    description: "Points farther than that from all of them stay where they are",
    unit: "tiles",
  }),
});
type SnapInput = z.infer<typeof options>;

const WORDS: Readonly<Record<SnapInput["to"], string>> = {
  points: "other points",
  borders: "borders",
  tiles: "edges of tiles",
  grid: "the grid",
};

/** Puts the picked points of the sheet exactly onto what lies near them. */
export const snapPoints: EditOperation<SnapInput> = {
  id: "snap-points",
  title: "Snap points",
  about:
    "Puts each picked UV point exactly onto the nearest other point, border, tile edge or line of the grid; pinned points stay.",
  kind: "edit",
  stage: "unfold",
  heading: "Points",
  acts: "faces",
  picks: true,
  options,
  run(asset, scope, { to, within }) {
    const work = pickedPoints(asset, scope);
    const own = new Map(work.map((w) => [w.shape.id, w.picked]));
    const all = shapesOf(asset).map((shape) => ({
      shape,
      layout: layoutOf(shape, scope.set),
      moves: own.get(shape.id) ?? null,
    }));
    const targets = new SnapTargets(all, to, within);
    let total = 0;
    const changes = work.flatMap(({ shape, layout, picked }) => {
      const uv = layout.uv.slice();
      let moved = 0;
      picked.forEach((on, w) => {
        if (!on || getBit(layout.pinned, w)) return;
        const [u, v] = [uv[2 * w]!, uv[2 * w + 1]!];
        const place = targets.nearest(u, v);
        if (!place || (place[0] === u && place[1] === v)) return;
        uv.set(place, 2 * w);
        moved++;
      });
      total += moved;
      return moved ? [{ shape: shape.id, set: scope.set, layout: withPoints(layout, uv) }] : [];
    });
    if (!total)
      throw new UserError(
        `None of these points may move, or lies so near to ${WORDS[to]} without being there already.`,
      );
    return { asset: withLayouts(asset, changes), words: `Snap ${count(total, "UV point")} to ${WORDS[to]}`, notes: [] };
  },
};
