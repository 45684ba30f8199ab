import { byRatio, byTexels, commonDensity, levelFactor, type ShellArea, shellAreas } from "../../density/level";
import { type Asset, type LayoutChange, type PlacedShape, shapesOf, type UvSetId } from "../../layout/asset";
import { facesOfShell, isBarrier, type Layout, structureOf, withPoints } from "../../layout/layout";
import { hasPins, isMapped, wedgesOfShell } from "../../layout/shell-points";
import { resolutionAt } from "../../layout/tiles";
import { UserError } from "../../layout/user-error";
import { type Indices, indices, type Shell } from "../../mesh/indices";
import { topologyOf } from "../../mesh/topology";
import { trianglesOf } from "../../mesh/triangulate";
import { iota } from "../../numeric/iota";
import { applyPlacement, type Placement } from "../../pack/page";
import type { Item } from "../../pack/raster";
import { boxOf } from "../../place/box";
import { standing } from "./lie";
import type { PackOptions } from "./pack-options";

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

/** A shell that is packed, and the item that it is packed as: those of a stack share one. */
export interface Owner {
  /** Its place in the work. */
  readonly work: number;
  readonly shell: Shell;
  readonly wedges: Uint32Array;
  /** What its points are multiplied by before they are placed. */
  readonly factor: number;
  readonly item: number;
}

/** What is packed, and what stays. */
export interface Gathered {
  readonly items: readonly Item[];
  readonly owners: readonly Owner[];
  readonly obstacles: readonly Item[];
}

/**
 * The shells that are to be moved, as large as is asked before they are scaled together. Every other mapped shell of the
 * asset in that set stays, and so do pinned ones.
 *
 * @throws UserError where there are none
 */
export function gathered(asset: Asset, work: readonly PackWork[], options: PackOptions, set: UvSetId): Gathered {
  // Texels count where tiles have several resolutions; in one tile that was given they are all alike.
  const weighBy = options.resolution === undefined ? byTexels : byRatio;
  const moving = work.map(({ shape, layout, shells }) => {
    const wanted = new Set(shells);
    const areas = shellAreas(shape, layout, weighBy(asset, set, shape.id));
    return areas.filter((a) => wanted.has(a.shell) && !hasPins(shape.mesh, layout, a.shell));
  });
  const density = commonDensity(moving.flat());
  const levels = options.sizes !== "keep" && options.sizes !== "fill";
  const items: Item[] = [];
  const owners: Owner[] = [];
  const stack = options.keepStacks && asset.rules.stacks ? stackFinder() : null;
  const stands = options.turns !== "none" && options.keepUpright ? standing(asset) : () => false;
  work.forEach(({ shape, layout }, i) => {
    for (const area of moving[i]!) {
      const wedges = wedgesOfShell(shape.mesh, layout, area.shell);
      const texels = options.resolution === undefined ? texelShare(asset, layout, wedges) : 1;
      const factor = (levels ? levelFactor(area, density) : 1) * texels;
      const item = stack?.(layout, wedges, factor, items.length) ?? items.length;
      if (item === items.length)
        items.push({ ...itemOf(shape, layout, area.shell, factor), stands: stands(shape, layout, area.shell) });
      owners.push({ work: i, shell: area.shell, wedges, factor, item });
    }
  });
  if (!items.length) throw new UserError("None of these shells can be packed: unfold them, or unpin them, first.");
  return { items, owners, obstacles: staying(asset, work, moving, set) };
}

/** Texels of the tile that a shell lies in, by those of tiles that have none of their own. */
function texelShare(asset: Asset, layout: Layout, wedges: Uint32Array): number {
  if (!Object.keys(asset.tiles.own).length) return 1;
  const uv = new Float64Array(2 * wedges.length);
  for (let i = 0; i < wedges.length; i++) uv.set(layout.uv.subarray(2 * wedges[i]!, 2 * wedges[i]! + 2), 2 * i);
  const { u0, v0, u1, v1 } = boxOf(uv);
  return resolutionAt(asset.tiles, (u0 + u1) / 2, (v0 + v1) / 2) / asset.tiles.resolution;
}

/** Layouts with shells where their items were placed; those whose items lie nowhere yet stay. */
export function placedLayouts(
  work: readonly PackWork[],
  owners: readonly Owner[],
  placements: readonly (Placement | null)[],
  set: UvSetId,
): LayoutChange[] {
  const points = new Map<number, Float64Array>();
  for (const { work: i, wedges, factor, item } of owners) {
    const placement = placements[item];
    if (!placement) continue;
    const uv = points.get(i) ?? work[i]!.layout.uv.slice();
    points.set(i, uv);
    for (const w of wedges) {
      const [u, v] = applyPlacement(placement, uv[2 * w]! * factor, uv[2 * w + 1]! * factor);
      uv[2 * w] = u;
      uv[2 * w + 1] = v;
    }
  }
  return [...points].map(([i, uv]) => {
    const { shape, layout } = work[i]!;
    return { shape: shape.id, set, layout: withPoints(layout, uv) };
  });
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
