import { z } from "zod";
import { commonDensity, levelFactor, shellAreas } from "../density/level";
import { type Asset, type LayoutChange, type Part, withLayouts } from "../layout/asset";
import { wedgesOfShell } from "../layout/shell-points";
import { UserError } from "../layout/user-error";
import { facesOfShell, isBarrier, structureOf, type UvSet, withPoints } from "../layout/uv-set";
import { topologyOf } from "../mesh/topology";
import { trianglesOf } from "../mesh/triangulate";
import { applyPlacement, packItems } from "../pack/pack-items";
import type { Item } from "../pack/raster";
import { type EditOperation, resolutionOption } from "./operation";
import { layoutOf, partsInScope } from "./scope";
import { count } from "./words";

export const packOptions = z.object({
  resolution: resolutionOption,
  padding: z
    .number()
    .min(0)
    .max(256)
    .default(8)
    .meta({ title: "Padding", description: "Least distance between shells", unit: "px" }),
  margin: z.number().min(0).max(256).optional().meta({
    title: "Margin",
    description: "Least distance from the tile's border; the padding when not given",
    unit: "px",
  }),
  turns: z
    .enum(["none", "quarter"])
    .default("quarter")
    .meta({ title: "Turns", description: "Whether shells may be turned by quarters" }),
  keepScale: z
    .boolean()
    .default(false)
    .meta({ title: "Keep sizes", description: "Neither level nor scale; fails when the shells do not fit" }),
});

/** Places shells in the first tile without overlap, as large as they fit. */
export const pack: EditOperation<z.infer<typeof packOptions>> = {
  id: "pack",
  title: "Pack",
  about: "Levels the shells and places them in one tile, as large as they fit together with the padding between them.",
  kind: "edit",
  stage: "place",
  acts: "parts",
  big: true,
  options: packOptions,
  run(asset, scope, options, context) {
    // Packing some shells of a tile would lay them over the others, so a selection stands for its parts.
    const parts = partsInScope(asset, scope);
    const { changes, shells } = packLayouts(
      asset,
      parts.map((part) => ({ part, layout: layoutOf(part, scope.set) })),
      options,
      scope.set,
      context.progress,
    );
    return { asset: withLayouts(asset, changes), words: `Pack ${count(shells, "shell")}`, notes: [] };
  },
};

interface Work {
  readonly part: Part;
  readonly layout: UvSet;
}

/** Packs all mapped shells of some layouts, levelled unless their sizes are to stay. */
export function packLayouts(
  asset: Asset,
  work: readonly Work[],
  options: z.infer<typeof packOptions>,
  set: number,
  onStep: (share: number) => void,
): { changes: LayoutChange[]; shells: number } {
  const areas = work.map(({ part, layout }) => shellAreas(asset, part, layout));
  const density = commonDensity(areas.flat());
  const items: Item[] = [];
  const owners: Array<{ work: number; wedges: Uint32Array; factor: number }> = [];
  work.forEach(({ part, layout }, i) => {
    for (const area of areas[i]!) {
      const factor = options.keepScale ? 1 : levelFactor(area, density);
      items.push(itemOf(part, layout, area.shell, factor));
      owners.push({ work: i, wedges: wedgesOfShell(part.mesh, layout, area.shell), factor });
    }
  });
  if (!items.length) throw new UserError("No shell has coordinates yet: unfold first.");
  const placed = packItems(items, { ...options, margin: options.margin ?? options.padding }, onStep);
  const points = work.map(({ layout }) => layout.uv.slice());
  owners.forEach(({ work: i, wedges, factor }, k) => {
    const uv = points[i]!;
    for (const w of wedges) {
      const [u, v] = applyPlacement(placed[k]!, uv[2 * w]! * factor, uv[2 * w + 1]! * factor);
      uv[2 * w] = u;
      uv[2 * w + 1] = v;
    }
  });
  const changes = work.map(({ part, layout }, i) => ({ part: part.id, set, layout: withPoints(layout, points[i]!) }));
  return { changes, shells: items.length };
}

/** A shell as the packer sees it, scaled by a factor. */
function itemOf(part: Part, layout: UvSet, shell: number, factor: number): Item {
  const { mesh } = part;
  const s = structureOf(mesh, layout);
  const t = trianglesOf(mesh);
  const topology = topologyOf(mesh);
  const triangles: number[] = [];
  const outline: number[] = [];
  const at = (corner: number) => 2 * s.cornerWedge[corner]!;
  for (const f of facesOfShell(s, shell)) {
    for (let k = 3 * t.faceStart[f]!; k < 3 * t.faceStart[f + 1]!; k++) {
      const w = at(t.corners[k]!);
      triangles.push(layout.uv[w]! * factor, layout.uv[w + 1]! * factor);
    }
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      if (!isBarrier(topology, layout, topology.cornerEdge[c]!)) continue;
      const [a, b] = [at(c), at(topology.cornerNext[c]!)];
      outline.push(
        layout.uv[a]! * factor,
        layout.uv[a + 1]! * factor,
        layout.uv[b]! * factor,
        layout.uv[b + 1]! * factor,
      );
    }
  }
  return { triangles: Float64Array.from(triangles), outline: Float64Array.from(outline) };
}
