import { z } from "zod";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { type ShellAt, shellsAt, shifted, withShellsAt } from "./shells-at";
import { stacksAmong } from "./twins";

const options = z.object({
  way: z.enum(["away", "back"]).default("away").meta({
    title: "Way",
    description: "One tile to the right, where a bake does not see them, or back onto the first",
  }),
});

/** Moves all but the first shell of every stack a whole tile away, or back. */
export const copiesAway: EditOperation<z.infer<typeof options>> = {
  id: "copies-away",
  title: "Copies a tile away",
  about:
    "Moves all but the first shell of every stack a whole tile to the right, so that a bake uses one of them, or back again.",
  kind: "edit",
  stage: "place",
  heading: "Stacks",
  acts: "shells",
  options,
  run(asset, scope, { way }) {
    const shells = shellsAt(asset, scope);
    const moving = way === "away" ? stacksAmong(shells).flatMap((list) => list.slice(1)) : copiesOf(shells);
    if (!moving.length)
      throw new UserError(
        way === "away"
          ? "No two of these shells lie exactly on one another."
          : "None of these shells lies a tile to the right of another.",
      );
    const meant = new Set(moving);
    const by = way === "away" ? 1 : -1;
    const uvs = shells.map(({ uv }, k) => (meant.has(k) ? shifted(uv, [by, 0]) : null));
    return {
      asset: withShellsAt(asset, scope.set, shells, uvs),
      words: `Move ${count(moving.length, "shell")} of stacks a tile ${way}`,
      notes: [],
    };
  },
};

/** Shells that lie exactly a tile to the right of another one. */
function copiesOf(shells: readonly ShellAt[]): number[] {
  const moved = shells.map((own): ShellAt => {
    const { u0, v0, u1, v1 } = own.box;
    return { ...own, uv: shifted(own.uv, [-1, 0]), box: { u0: u0 - 1, v0, u1: u1 - 1, v1 } };
  });
  const all = stacksAmong([...shells, ...moved]);
  const out = new Set<number>();
  for (const list of all) {
    if (!list.some((k) => k < shells.length)) continue;
    for (const k of list) if (k >= shells.length) out.add(k - shells.length);
  }
  return [...out].sort((a, b) => a - b);
}
