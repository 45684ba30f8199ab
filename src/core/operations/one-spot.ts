import { z } from "zod";
import { type LayoutChange, withLayouts } from "../layout/asset";
import { withPoints } from "../layout/layout";
import { hasPins, isMapped, wedgesOfShell } from "../layout/shell-points";
import { resolutionAt } from "../layout/tiles";
import { UserError } from "../layout/user-error";
import type { EditOperation } from "./operation";
import { shellsInScope } from "./scope";
import { count } from "./words";

const options = z.object({
  texels: z
    .number()
    .min(0.01)
    .max(64)
    .default(0.5)
    .meta({ title: "Size", description: "Of the larger side of each spot, in texels of its tile", unit: "texels" }),
});

/** Shrinks shells to spots that take one colour of the texture. */
export const oneSpot: EditOperation<z.infer<typeof options>> = {
  id: "one-spot",
  title: "Make one colour spot",
  about: "Shrinks each picked shell about its middle to less than a texel, for parts that take one flat colour.",
  kind: "edit",
  stage: "unfold",
  heading: "Flatten",
  acts: "shells",
  picks: true,
  options,
  run(asset, scope, { texels }) {
    if (!scope.selection && !scope.picked) throw new UserError("Pick the shells that are to become spots first.");
    let total = 0;
    const changes = shellsInScope(asset, scope).flatMap(({ shape, layout, shells }): LayoutChange[] => {
      const uv = layout.uv.slice();
      let own = 0;
      for (const shell of shells) {
        if (!isMapped(shape.mesh, layout, shell) || hasPins(shape.mesh, layout, shell)) continue;
        const wedges = wedgesOfShell(shape.mesh, layout, shell);
        let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
        for (const w of wedges) {
          u0 = Math.min(u0, uv[2 * w]!);
          u1 = Math.max(u1, uv[2 * w]!);
          v0 = Math.min(v0, uv[2 * w + 1]!);
          v1 = Math.max(v1, uv[2 * w + 1]!);
        }
        const [u, v] = [(u0 + u1) / 2, (v0 + v1) / 2];
        const scale = texels / resolutionAt(asset.tiles, u, v) / Math.max(u1 - u0, v1 - v0, 1e-300);
        if (scale >= 1) continue;
        own++;
        for (const w of wedges) {
          uv[2 * w] = u + scale * (uv[2 * w]! - u);
          uv[2 * w + 1] = v + scale * (uv[2 * w + 1]! - v);
        }
      }
      total += own;
      return own ? [{ shape: shape.id, set: scope.set, layout: withPoints(layout, uv) }] : [];
    });
    if (!total) throw new UserError("These shells have no coordinates, are pinned, or are as small already.");
    return { asset: withLayouts(asset, changes), words: `Make ${count(total, "colour spot")}`, notes: [] };
  },
};
