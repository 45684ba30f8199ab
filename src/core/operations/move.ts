import { z } from "zod";
import { withLayouts } from "../layout/asset";
import { isMapped, wedgesOfShell } from "../layout/shell-points";
import { UserError } from "../layout/user-error";
import { withPoints } from "../layout/uv-set";
import type { EditOperation } from "./operation";
import { shellsInScope } from "./scope";
import { count } from "./words";

const options = z.object({
  du: z.number().default(0).meta({ title: "Move u", description: "To the right", unit: "tiles" }),
  dv: z.number().default(0).meta({ title: "Move v", description: "Upwards", unit: "tiles" }),
  turn: z.number().default(0).meta({ title: "Turn", description: "Counter-clockwise", unit: "°" }),
  scale: z
    .number()
    .min(1e-6)
    .max(1e6)
    .default(1)
    .meta({ title: "Scale", description: "About the middle of the picked shells" }),
});

/** Moves, turns and scales the picked shells together, about the middle of their common box. */
export const move: EditOperation<z.infer<typeof options>> = {
  id: "move",
  title: "Move, turn, scale",
  about: "Moves, turns and scales the picked shells together, about the middle of their box.",
  kind: "edit",
  stage: "place",
  acts: "shells",
  options,
  run(asset, scope, { du, dv, turn, scale }) {
    const work = shellsInScope(asset, scope).map(({ part, layout, shells }) => {
      const mapped = Array.from(shells).filter((s) => isMapped(part.mesh, layout, s));
      return {
        part,
        layout,
        shells: mapped,
        wedges: mapped.flatMap((s) => Array.from(wedgesOfShell(part.mesh, layout, s))),
      };
    });
    const total = work.reduce((n, w) => n + w.shells.length, 0);
    if (!total) throw new UserError("These shells have no coordinates yet: unfold them first.");
    let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
    for (const { layout, wedges } of work) {
      for (const w of wedges) {
        u0 = Math.min(u0, layout.uv[2 * w]!);
        u1 = Math.max(u1, layout.uv[2 * w]!);
        v0 = Math.min(v0, layout.uv[2 * w + 1]!);
        v1 = Math.max(v1, layout.uv[2 * w + 1]!);
      }
    }
    const [mu, mv] = [(u0 + u1) / 2, (v0 + v1) / 2];
    const c = scale * Math.cos((turn * Math.PI) / 180);
    const s = scale * Math.sin((turn * Math.PI) / 180);
    const changes = work
      .filter((w) => w.wedges.length)
      .map(({ part, layout, wedges }) => {
        const uv = layout.uv.slice();
        for (const w of wedges) {
          const [x, y] = [layout.uv[2 * w]! - mu, layout.uv[2 * w + 1]! - mv];
          uv[2 * w] = turn || scale !== 1 ? c * x - s * y + mu + du : layout.uv[2 * w]! + du;
          uv[2 * w + 1] = turn || scale !== 1 ? s * x + c * y + mv + dv : layout.uv[2 * w + 1]! + dv;
        }
        return { part: part.id, set: scope.set, layout: withPoints(layout, uv) };
      });
    const what = turn ? "Turn" : scale !== 1 ? "Scale" : "Move";
    return { asset: withLayouts(asset, changes), words: `${what} ${count(total, "shell")}`, notes: [] };
  },
};
