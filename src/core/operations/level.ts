import { z } from "zod";
import { byTexels, commonDensity, levelFactor, type ShellArea, shellAreas } from "../density/level";
import { type PlacedShape, withLayouts } from "../layout/asset";
import { type Layout, shellName, structureOf, withPoints } from "../layout/layout";
import { hasPins, wedgesOfShell } from "../layout/shell-points";
import { UserError } from "../layout/user-error";
import type { Shell } from "../mesh/indices";
import { type EditOperation, resolutionOption } from "./operation";
import { shellsInScope } from "./scope";
import { count } from "./words";

/** What is brought to one density together. */
const TOGETHER = ["all", "each material", "each part"] as const;

const options = z.object({
  density: z.number().min(0).default(0).meta({
    title: "Density",
    description: "Texels per unit of length; 0 keeps the mean of the shells",
    unit: "px/unit",
    takes: "density",
  }),
  together: z.enum(TOGETHER).default("all").meta({
    title: "Together",
    description: "Without a figure: all come to one mean, or those of each material or part to their own",
  }),
  resolution: resolutionOption.meta({
    ...resolutionOption.meta(),
    description:
      "Texels per tile side in which the density is measured; those of the tile that each shell lies in when not given",
  }),
});

/** Scales every shell about its middle to one texel density. */
export const level: EditOperation<z.infer<typeof options>> = {
  id: "level",
  title: "Level",
  about:
    "Scales shells, each about its middle, to one texel density: their mean, or the one given. Density ratios are kept, and tiles of other resolution counted as they are.",
  kind: "edit",
  stage: "level",
  fits: ["shells"],
  heading: "Density",
  key: "L",
  mends: { findings: ["density"] },
  acts: "shells",
  options,
  run(asset, scope, { density, together, resolution }) {
    const own = resolution === undefined ? asset : { ...asset, tiles: { resolution, own: {} } };
    const work = shellsInScope(asset, scope).flatMap(({ shape, layout, shells }) => {
      const wanted = new Set(shells);
      const areas = shellAreas(shape, layout, byTexels(own, scope.set, shape.id));
      return areas
        .filter((a) => wanted.has(a.shell) && !hasPins(shape.mesh, layout, a.shell))
        .map((area) => ({ shape, layout, area, group: groupOf(shape, layout, area.shell, together) }));
    });
    if (!work.length)
      throw new UserError("These shells have no coordinates yet, or are pinned: unfold or unpin them first.");
    const groups = new Map<string, ShellArea[]>();
    for (const { group, area } of work) {
      const list = groups.get(group);
      if (list) list.push(area);
      else groups.set(group, [area]);
    }
    const targets = new Map([...groups].map(([name, areas]) => [name, density > 0 ? density : commonDensity(areas)]));
    const points = new Map<string, { layout: Layout; uv: Float64Array }>();
    for (const { shape, layout, area, group } of work) {
      const { uv } = points.get(shape.id) ?? { uv: layout.uv.slice() };
      points.set(shape.id, { layout, uv });
      scaleAboutMiddle(uv, wedgesOfShell(shape.mesh, layout, area.shell), levelFactor(area, targets.get(group)!));
    }
    const changes = [...points].map(([shape, { layout, uv }]) => ({
      shape,
      set: scope.set,
      layout: withPoints(layout, uv),
    }));
    return { asset: withLayouts(asset, changes), words: `Level ${count(work.length, "shell")}`, notes: [] };
  },
};

/** What a shell comes to one density with. */
function groupOf(shape: PlacedShape, layout: Layout, shell: Shell, together: (typeof TOGETHER)[number]): string {
  if (together === "all") return "";
  if (together === "each part") return shape.id;
  return String(shape.mesh.faceMaterial[shellName(structureOf(shape.mesh, layout), shell)]!);
}

function scaleAboutMiddle(uv: Float64Array, wedges: Uint32Array, factor: number): void {
  for (let d = 0; d < 2; d++) {
    let low = Infinity;
    let high = -Infinity;
    for (const w of wedges) {
      low = Math.min(low, uv[2 * w + d]!);
      high = Math.max(high, uv[2 * w + d]!);
    }
    const middle = (low + high) / 2;
    for (const w of wedges) uv[2 * w + d] = middle + (uv[2 * w + d]! - middle) * factor;
  }
}
