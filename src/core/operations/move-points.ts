import { z } from "zod";
import { type Asset, type LayoutChange, type PlacedShape, type UvSetId, withLayouts } from "../layout/asset";
import { getBit } from "../layout/bits";
import { type Layout, structureOf, withPoints } from "../layout/layout";
import { UserError } from "../layout/user-error";
import { topologyOf } from "../mesh/topology";
import { FALLOFF_CURVES, type Falloff, falloffWeights, type Weights } from "../select/falloff";
import { motionOptions, motionWord } from "./motion";
import type { EditOperation, Scope } from "./operation";
import { layoutOf, shapesInScope } from "./scope";
import { count } from "./words";

const options = z.object({
  ...motionOptions("picked points"),
  radius: z.number().min(0).max(100).default(0).meta({
    title: "Falloff",
    description: "How far about the picked points others follow; 0 for none",
    unit: "tiles",
  }),
  curve: z
    .enum(FALLOFF_CURVES)
    .default("smooth")
    .meta({ title: "Curve", description: "How the others follow less and less with their distance" }),
});
export type MovePointsInput = z.infer<typeof options>;

/** Moves, turns and scales the picked points of the sheet, those about them following. */
export const movePoints: EditOperation<MovePointsInput> = {
  id: "move-points",
  title: "Move points",
  about: "Moves, turns and scales the picked UV points about their middle; with a falloff those near them follow.",
  kind: "edit",
  stage: "unfold",
  heading: "Points",
  acts: "faces",
  picks: true,
  options,
  run(asset, scope, input) {
    const work = pointsWork(asset, scope, input);
    return {
      asset: withLayouts(asset, movedPoints(work, input, scope.set)),
      words: pointsWords(work, input),
      notes: [],
    };
  },
};

/** The picked points and those that follow them, looked up once. */
export interface PointsWork {
  readonly picked: number;
  readonly middle: readonly [number, number];
  readonly shapes: ReadonlyArray<{ readonly shape: PlacedShape; readonly layout: Layout } & Weights>;
}

/** The wedges of picked corners that have coordinates. */
function wedgesPicked({ mesh }: PlacedShape, layout: Layout, corners: Uint32Array): Set<number> {
  const s = structureOf(mesh, layout);
  const { cornerFace } = topologyOf(mesh);
  return new Set(
    Array.from(corners).flatMap((c) => (getBit(layout.mapped, cornerFace[c]!) ? [s.cornerWedge[c]!] : [])),
  );
}

/** @throws UserError when no points are picked, or none of them can move */
export function pointsWork(asset: Asset, scope: Scope, falloff: Falloff): PointsWork {
  const { selection } = scope;
  if (selection?.kind !== "points") throw new UserError("Pick UV points first.");
  let total = 0;
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  const shapes = shapesInScope(asset, scope).flatMap((shape) => {
    const layout = layoutOf(shape, scope.set);
    const picked = wedgesPicked(shape, layout, selection.items.get(shape.id)!);
    for (const w of picked) {
      u0 = Math.min(u0, layout.uv[2 * w]!);
      u1 = Math.max(u1, layout.uv[2 * w]!);
      v0 = Math.min(v0, layout.uv[2 * w + 1]!);
      v1 = Math.max(v1, layout.uv[2 * w + 1]!);
      if (!getBit(layout.pinned, w)) total++;
    }
    return picked.size ? [{ shape, layout, ...falloffWeights(shape.mesh, layout, picked, falloff) }] : [];
  });
  if (!total) throw new UserError("These points have no coordinates yet, or are pinned: unfold or unpin them first.");
  return { picked: total, middle: [(u0 + u1) / 2, (v0 + v1) / 2], shapes };
}

/** The layouts with their points moved: each by as much of the turn, scale and way as its weight is. Pinned ones stay. */
export function movedPoints(
  work: PointsWork,
  input: Omit<MovePointsInput, keyof Falloff>,
  set: UvSetId,
): LayoutChange[] {
  const [mu, mv] = work.middle;
  const { du, dv, turn, scale } = input;
  const radians = (turn * Math.PI) / 180;
  const rigid = !turn && scale === 1;
  return work.shapes.map(({ shape, layout, wedges, weights }) => {
    const uv = layout.uv.slice();
    for (let i = 0; i < wedges.length; i++) {
      const w = wedges[i]!;
      if (getBit(layout.pinned, w)) continue;
      const weight = weights[i]!;
      const [x, y] = [uv[2 * w]! - mu, uv[2 * w + 1]! - mv];
      const times = scale ** weight;
      const [c, s] = [times * Math.cos(weight * radians), times * Math.sin(weight * radians)];
      uv[2 * w] = rigid ? uv[2 * w]! + weight * du : c * x - s * y + mu + weight * du;
      uv[2 * w + 1] = rigid ? uv[2 * w + 1]! + weight * dv : s * x + c * y + mv + weight * dv;
    }
    return { shape: shape.id, set, layout: withPoints(layout, uv) };
  });
}

export function pointsWords({ picked }: PointsWork, input: MovePointsInput): string {
  return `${motionWord(input)} ${count(picked, "UV point")}${input.radius ? " with falloff" : ""}`;
}
