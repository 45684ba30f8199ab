import { byRatio, commonDensity, levelFactor, type ShellArea, shellAreas } from "../../density/level";
import {
  type Asset,
  type LayoutChange,
  type PlacedShape,
  shapesOf,
  type UvSetId,
  withLayouts,
} from "../../layout/asset";
import { facesOfShell, isBarrier, type Layout, structureOf, withPoints } from "../../layout/layout";
import { hasPins, isMapped, wedgesOfShell } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import { type Indices, indices, type Shell } from "../../mesh/indices";
import { topologyOf } from "../../mesh/topology";
import { trianglesOf } from "../../mesh/triangulate";
import { iota } from "../../numeric/iota";
import { applyPlacement, packReached } from "../../pack/pack-items";
import type { Item } from "../../pack/raster";
import type { EditContext, EditResult, Scope } from "../operation";
import { shellsInScope } from "../scope";
import { count } from "../words";
import { standing } from "./lie";

/** Orders that are tried, by those of a quick search. */
const EFFORTS = { quick: 1, thorough: 2.5, long: 20 } as const;

/** How shells are packed; texels, in the asset's resolution where none is given. */
export interface PackOptions {
  readonly resolution?: number | undefined;
  readonly padding: number;
  /** The padding when not given. */
  readonly margin?: number | undefined;
  readonly turns: "none" | "quarter";
  /** How long better places are looked for; not longer than at once when not given. */
  readonly search?: keyof typeof EFFORTS | undefined;
  /** Shells that stand upright are not turned. */
  readonly keepUpright?: boolean | undefined;
  readonly keepScale: boolean;
  /** Shells that lie exactly on one another are packed as one; else every shell gets a place of its own. */
  readonly keepStacks?: boolean | undefined;
}

/** Places shells in the first tile without overlap, as large as they fit. */
export function run(asset: Asset, scope: Scope, options: PackOptions, context: EditContext): EditResult {
  const work = shellsInScope(asset, scope);
  const { changes, shells, stopped } = packLayouts(asset, work, options, scope.set, context.progress);
  return {
    asset: withLayouts(asset, changes),
    words: `Pack ${count(shells, "shell")}${stopped ? ", stopped early" : ""}`,
    notes: [],
    ...(stopped ? { stopped } : {}),
  };
}

/** Shells of a layout that are to be packed. */
export interface PackWork {
  readonly shape: PlacedShape;
  readonly layout: Layout;
  readonly shells: Indices<Shell>;
}

/** All shells of some layouts. */
export const allShells = (shape: PlacedShape, layout: Layout): PackWork => ({
  shape,
  layout,
  shells: indices(iota(structureOf(shape.mesh, layout).shellCount)),
});

/**
 * Packs mapped shells, levelled unless their sizes are to stay. Every other mapped shell of the asset in that set is an
 * obstacle, as are pinned ones.
 */
export function packLayouts(
  asset: Asset,
  work: readonly PackWork[],
  options: PackOptions,
  set: UvSetId,
  onStep: (share: number) => void,
): { changes: LayoutChange[]; shells: number; stopped?: true } {
  const moving = work.map(({ shape, layout, shells }) => {
    const wanted = new Set(shells);
    const weigh = byRatio(asset, set, shape.id);
    return shellAreas(shape, layout, weigh).filter((a) => wanted.has(a.shell) && !hasPins(shape.mesh, layout, a.shell));
  });
  const density = commonDensity(moving.flat());
  const items: Item[] = [];
  const owners: Array<{ work: number; wedges: Uint32Array; factor: number; item: number }> = [];
  const stack = options.keepStacks && asset.rules.stacks ? stackFinder() : null;
  const stands = options.turns === "quarter" && options.keepUpright ? standing(asset) : () => false;
  work.forEach(({ shape, layout }, i) => {
    for (const area of moving[i]!) {
      const factor = options.keepScale ? 1 : levelFactor(area, density);
      const wedges = wedgesOfShell(shape.mesh, layout, area.shell);
      const item = stack?.(layout, wedges, factor, items.length) ?? items.length;
      if (item === items.length)
        items.push({ ...itemOf(shape, layout, area.shell, factor), stands: stands(shape, layout, area.shell) });
      owners.push({ work: i, wedges, factor, item });
    }
  });
  if (!items.length) throw new UserError("None of these shells can be packed: unfold them, or unpin them, first.");
  const obstacles = staying(asset, work, moving, set);
  onStep(0);
  const { resolution = asset.tiles.resolution, margin = options.padding } = options;
  const effort = EFFORTS[options.search ?? "quick"];
  const found = packReached(items, { ...options, resolution, margin, obstacles, effort }, onStep);
  const { placements: placed, stopped } = found;
  const points = work.map(({ layout }) => layout.uv.slice());
  owners.forEach(({ work: i, wedges, factor, item }) => {
    const uv = points[i]!;
    for (const w of wedges) {
      const [u, v] = applyPlacement(placed[item]!, uv[2 * w]! * factor, uv[2 * w + 1]! * factor);
      uv[2 * w] = u;
      uv[2 * w + 1] = v;
    }
  });
  const changes = work.flatMap(({ shape, layout }, i) =>
    moving[i]!.length ? [{ shape: shape.id, set, layout: withPoints(layout, points[i]!) }] : [],
  );
  return { changes, shells: owners.length, ...(stopped ? { stopped: true } : {}) };
}

/** How near the points of shells lie to be in one place, tiles. */
const ON_ONE = 1e-7;

/** Tells the number under which a shell is packed: that of the first that lies exactly where it does, or the next. */
function stackFinder() {
  const known = new Map<string, Array<{ readonly item: number; readonly sums: readonly number[] }>>();
  return (layout: Layout, wedges: Uint32Array, factor: number, next: number): number => {
    const sums = [0, 0, 0, 0];
    for (let i = 0; i < wedges.length; i++)
      for (let d = 0; d < 2; d++) {
        const x = layout.uv[2 * wedges[i]! + d]!;
        sums[d]! += x;
        sums[d + 2]! += x * x;
      }
    const key = `${wedges.length} ${factor.toPrecision(6)}`;
    const list = known.get(key) ?? [];
    known.set(key, list);
    const same = list.find((own) => own.sums.every((x, i) => Math.abs(x - sums[i]!) <= ON_ONE * wedges.length));
    if (same) return same.item;
    list.push({ item: next, sums });
    return next;
  };
}

/** Mapped shells that are not moved, where they lie. */
function staying(
  asset: Asset,
  work: readonly PackWork[],
  moving: readonly (readonly ShellArea[])[],
  set: UvSetId,
): Item[] {
  const byShape = new Map(
    work.map((w, i) => [w.shape.id, { layout: w.layout, moved: new Set(moving[i]!.map((a) => a.shell)) }]),
  );
  return shapesOf(asset).flatMap((shape) => {
    const own = byShape.get(shape.id);
    const layout = own?.layout ?? shape.layouts.get(set);
    if (!layout) return [];
    const { shellCount } = structureOf(shape.mesh, layout);
    return Array.from({ length: shellCount }, (_, shell) => shell as Shell)
      .filter((shell) => !own?.moved.has(shell) && isMapped(shape.mesh, layout, shell))
      .map((shell) => itemOf(shape, layout, shell, 1));
  });
}

/** A shell as the packer sees it, scaled by a factor. */
function itemOf(shape: PlacedShape, layout: Layout, shell: Shell, factor: number): Item {
  const { mesh } = shape;
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
