import { z } from "zod";
import { commonDensity, levelFactor, shellAreas } from "../density/level";
import { withLayouts } from "../layout/asset";
import { withPoints } from "../layout/layout";
import { hasPins, wedgesOfShell } from "../layout/shell-points";
import { UserError } from "../layout/user-error";
import { type EditOperation, resolutionOption } from "./operation";
import { shellsInScope } from "./scope";
import { count } from "./words";

const options = z.object({
  density: z.number().min(0).default(0).meta({
    title: "Density",
    description: "Texels per unit of length; 0 keeps the mean of the shells",
    unit: "px/unit",
  }),
  resolution: resolutionOption.meta({
    ...resolutionOption.meta(),
    description:
      "Texels per tile side in which the density is measured (those of the asset when not given); not used when the density is 0",
  }),
});

/** Scales every shell about its middle to one texel density. */
export const level: EditOperation<z.infer<typeof options>> = {
  id: "level",
  title: "Level",
  about: "Scales shells, each about its middle, to one texel density: their mean, or the one given.",
  kind: "edit",
  stage: "level",
  fits: ["shells"],
  heading: "Density",
  key: "L",
  mends: { findings: ["density"] },
  acts: "shells",
  options,
  run(asset, scope, { density, resolution = asset.tiles.resolution }) {
    const work = shellsInScope(asset, scope).map((w) => {
      const wanted = new Set(w.shells);
      return {
        ...w,
        areas: shellAreas(w.shape, w.layout).filter(
          (a) => wanted.has(a.shell) && !hasPins(w.shape.mesh, w.layout, a.shell),
        ),
      };
    });
    const all = work.flatMap((w) => w.areas);
    if (!all.length)
      throw new UserError("These shells have no coordinates yet, or are pinned: unfold or unpin them first.");
    const target = density > 0 ? density / resolution : commonDensity(all);
    const changes = work.map(({ shape, layout, areas }) => {
      const uv = layout.uv.slice();
      for (const area of areas) {
        scaleAboutMiddle(uv, wedgesOfShell(shape.mesh, layout, area.shell), levelFactor(area, target));
      }
      return { shape: shape.id, set: scope.set, layout: withPoints(layout, uv) };
    });
    return { asset: withLayouts(asset, changes), words: `Level ${count(all.length, "shell")}`, notes: [] };
  },
};

function scaleAboutMiddle(uv: Float64Array, wedges: Uint32Array, factor: number): void {
  for (const d of [0, 1]) {
    let [low, high] = [Infinity, -Infinity];
    for (const w of wedges) {
      low = Math.min(low, uv[2 * w + d]!);
      high = Math.max(high, uv[2 * w + d]!);
    }
    const middle = (low + high) / 2;
    for (const w of wedges) uv[2 * w + d] = middle + (uv[2 * w + d]! - middle) * factor;
  }
}
