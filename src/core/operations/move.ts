import { z } from "zod";
import { type Asset, type LayoutChange, type PlacedShape, type UvSetId, withLayouts } from "../layout/asset";
import { type Layout, withPoints } from "../layout/layout";
import { hasPins, isMapped, wedgesOfShell } from "../layout/shell-points";
import { UserError } from "../layout/user-error";
import { motionOptions, motionWord } from "./motion";
import type { Moving } from "./moving";
import type { EditOperation, EditResult, Scope } from "./operation";
import { ABOUT } from "./place/about";
import { Pushing } from "./pushing";
import { shellsInScope } from "./scope";
import { count } from "./words";

const factor = z.number().min(1e-6).max(1e6).default(1);

const options = z.object({
  ...motionOptions("picked shells"),
  scaleU: factor.meta({ title: "Scale u", description: "Across alone, before turning", more: true }),
  scaleV: factor.meta({ title: "Scale v", description: "Upwards alone, before turning", more: true }),
  about: z.enum(ABOUT).default("the common middle").meta({
    title: "About",
    description: "All about the middle of their box, or each about its own",
    more: true,
  }),
  push: z.boolean().default(false).meta({
    title: "Push neighbours",
    description: "Shells in the way are pushed along with the padding kept; locked and pinned ones stop all",
    more: true,
  }),
});
export type MoveInput = z.infer<typeof options>;

/** Moves, turns and scales the picked shells. */
export const move: EditOperation<MoveInput> = {
  id: "move",
  title: "Move, turn, scale",
  about: "Moves, turns and scales the picked shells, together about the middle of their box or each about its own.",
  kind: "edit",
  stage: "place",
  heading: "Arrange",
  acts: "shells",
  options,
  run(asset, scope, input) {
    const work = moveWork(asset, scope);
    const { push, turn, scale, scaleU, scaleV } = input;
    if (push && (turn || scale * scaleU !== 1 || scale * scaleV !== 1))
      throw new UserError("Neighbours are pushed by a move alone: turn and scale by another step.");
    if (push) return pushedOn(asset, scope, work, input);
    return { asset: withLayouts(asset, moved(work, input, scope.set)), words: movedWords(work, input), notes: [] };
  },
};

function pushedOn(asset: Asset, scope: Scope, work: MoveWork, input: MoveInput): EditResult {
  const pushing = new Pushing(asset, scope, movingOf(work));
  const way = pushing.reached(input);
  const short = Math.hypot(input.du - way.du, input.dv - way.dv) > 1e-9;
  return {
    asset: withLayouts(asset, pushing.changes(way, scope.set)),
    words: movedWords(work, input, pushing.pushed(way)),
    notes: short
      ? [{ words: "Something locked or pinned was in the way: they went as far as they could.", shells: [] }]
      : [],
  };
}

/** The points that are moved, as what they keep to takes them. */
export const movingOf = ({ shapes }: MoveWork): Moving[] =>
  shapes.flatMap(({ shape, layout, wedges }) =>
    wedges.map((list) => ({ shape: shape.id, uv: layout.uv, wedges: list })),
  );

/** What is to be moved, looked up once: a drag asks for it many times a second. */
export interface MoveWork {
  readonly shells: number;
  readonly middle: readonly [number, number];
  readonly shapes: ReadonlyArray<{
    readonly shape: PlacedShape;
    readonly layout: Layout;
    readonly wedges: readonly Uint32Array[];
  }>;
}

/** @throws UserError when none of the shells can be moved */
export function moveWork(asset: Asset, scope: Scope): MoveWork {
  let total = 0;
  const shapes = shellsInScope(asset, scope).flatMap(({ shape, layout, shells }) => {
    const wedges: Uint32Array[] = [];
    for (const s of shells)
      if (isMapped(shape.mesh, layout, s) && !hasPins(shape.mesh, layout, s))
        wedges.push(wedgesOfShell(shape.mesh, layout, s));
    total += wedges.length;
    return wedges.length ? [{ shape, layout, wedges }] : [];
  });
  if (!total) throw new UserError("These shells have no coordinates yet, or are pinned: unfold or unpin them first.");
  return { shells: total, middle: middleOf(shapes), shapes };
}

/** The middle of the box about some shells. */
function middleOf(
  shapes: ReadonlyArray<Pick<MoveWork["shapes"][number], "layout" | "wedges">>,
): readonly [number, number] {
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { layout, wedges } of shapes)
    for (const list of wedges)
      for (let i = 0; i < list.length; i++) {
        const w = list[i]!;
        u0 = Math.min(u0, layout.uv[2 * w]!);
        u1 = Math.max(u1, layout.uv[2 * w]!);
        v0 = Math.min(v0, layout.uv[2 * w + 1]!);
        v1 = Math.max(v1, layout.uv[2 * w + 1]!);
      }
  return [(u0 + u1) / 2, (v0 + v1) / 2];
}

/** What is done to shells; live moves say no more than they do. */
export type Motion = Pick<MoveInput, "du" | "dv" | "turn" | "scale"> & Partial<MoveInput>;

/** The layouts with their shells moved. */
export function moved({ middle, shapes }: MoveWork, motion: Motion, set: UvSetId): LayoutChange[] {
  const { du, dv, turn, scale, scaleU = 1, scaleV = 1, about = "the common middle" } = motion;
  const c = Math.cos((turn * Math.PI) / 180);
  const s = Math.sin((turn * Math.PI) / 180);
  const [su, sv] = [scale * scaleU, scale * scaleV];
  const rigid = !turn && su === 1 && sv === 1;
  return shapes.map(({ shape, layout, wedges }) => {
    const from = layout.uv;
    const uv = from.slice();
    for (const list of wedges) {
      const [mu, mv] = about === "the common middle" ? middle : middleOf([{ layout, wedges: [list] }]);
      for (let i = 0; i < list.length; i++) {
        const w = 2 * list[i]!;
        const x = su * (from[w]! - mu);
        const y = sv * (from[w + 1]! - mv);
        uv[w] = rigid ? from[w]! + du : c * x - s * y + mu + du;
        uv[w + 1] = rigid ? from[w + 1]! + dv : s * x + c * y + mv + dv;
      }
    }
    return { shape: shape.id, set, layout: withPoints(layout, uv) };
  });
}

/** @param pushed how many others went along */
export function movedWords({ shells }: MoveWork, input: Motion, pushed = 0): string {
  const { scale, scaleU = 1, scaleV = 1 } = input;
  return `${motionWord({ ...input, scale: scale * scaleU * scaleV })} ${count(shells, "shell")}${pushed ? `, pushing ${pushed}` : ""}`;
}
