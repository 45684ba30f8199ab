import type { Asset, PlacedShape } from "../../layout/asset";
import { facesOfShell, type Layout, shellName, structureOf } from "../../layout/layout";
import { bestFit, turned } from "../../layout/orient";
import { worldPositions } from "../../mesh/transform";
import { fourCorners, rectangleBorder } from "../../straighten/four-corners";
import type { Spacing } from "../../straighten/quad-grid";
import { GridFinder, type QuadGrid } from "../../straighten/quad-grid";
import { layoutArea } from "../../unfold/area";
import { formOf } from "../../unfold/shell-mesh";
import type { EditContext, EditResult, Note, Scope } from "../operation";
import { pickedPoints } from "../picked-points";
import { facesInScope } from "../scope";
import type { Rest } from "../straighten/rest";
import { count } from "../words";
import { withOpenedRings } from "./opened-rings";
import { pickPoints, putPoints } from "./straighten-edges";
import { type LaidShell, laidShells, laidStraight, type Straightened } from "./straightened-shells";

interface RectangleInput {
  readonly spacing: Spacing;
  readonly rest: Rest;
}

/** Lays strips, rings, patches of quads and four-cornered shells as rectangles. */
export function run(asset: Asset, scope: Scope, options: RectangleInput, context: EditContext): Promise<EditResult> {
  const corners = pickedCorners(asset, scope);
  const picked = pickedFaces(asset, scope);
  const laid = laidShells(asset, scope).map((own) => ({
    own,
    found: corners
      ? borderLaid(own, options.spacing, corners.get(own.shape.id)!)
      : asRectangle(own, options.spacing, picked?.get(own.shape.id)),
  }));
  const left = laid.filter(({ found }) => !found).map(({ own }) => own);
  const rings = !corners && !picked ? withOpenedRings(asset, left, scope.set) : null;
  if (rings) return withNote(run(rings.asset, scope, options, context), rings.opened);
  const why = corners
    ? "just four points of its border have to be picked as its corners"
    : "it is no strip, ring or patch of quads, and has not four corners";
  const notes = left.map(({ shape, layout, shell }): Note => {
    const shells = [{ shape: shape.id, face: shellName(structureOf(shape.mesh, layout), shell) }];
    return { words: `Shell ${shell + 1} of ${shape.name} stays as it is: ${why}.`, shells };
  });
  const work = laid.flatMap(({ found }) => (found ? [found] : []));
  return laidStraight(asset, scope, work, options.rest, context, { doing: "Straighten", notes });
}

async function withNote(result: Promise<EditResult>, opened: number): Promise<EditResult> {
  const { notes, ...own } = await result;
  const words = `Opened ${count(opened, "ring")} of quads along a column.`;
  return { ...own, notes: [{ words, shells: [], done: true }, ...notes] };
}

/** Picked faces by shape; nothing where whole shells are meant. */
function pickedFaces(asset: Asset, scope: Scope): ReadonlyMap<string, ReadonlySet<number>> | undefined {
  if (!scope.selection || scope.selection.kind === "shells") return undefined;
  return new Map(facesInScope(asset, scope).map(({ shape, faces }) => [shape.id, new Set(faces)]));
}

/** Picked points by shape, 1 by wedge: they are the corners of their shells; nothing where other things are picked. */
function pickedCorners(asset: Asset, scope: Scope): ReadonlyMap<string, Uint8Array> | null {
  const { kind } = scope.selection ?? {};
  if (kind !== "points" && kind !== "vertices") return null;
  return new Map(pickedPoints(asset, scope).map(({ shape, picked }) => [shape.id, picked]));
}

/** One for all shells of a layout. */
const finders = new WeakMap<Layout, GridFinder>();

function finderOf({ mesh }: PlacedShape, layout: Layout): GridFinder {
  let finder = finders.get(layout);
  if (!finder) {
    finder = new GridFinder(mesh, layout);
    finders.set(layout, finder);
  }
  return finder;
}

/** Of a shell's faces: how many a grid has to take for the rest to follow it. */
const MOST_OF_IT = 0.5;

/** A shell with its new places, where it can be a rectangle or its picked faces can. */
export function asRectangle(own: LaidShell, spacing: Spacing, picked?: ReadonlySet<number>): Straightened | null {
  const { shape, layout, shell } = own;
  const all = facesOfShell(structureOf(shape.mesh, layout), shell);
  const faces = picked ? all.filter((f) => picked.has(f)) : all;
  const finder = finderOf(shape, layout);
  const grids = finder.among(faces);
  const least = picked ? 1 : MOST_OF_IT * all.length;
  const grid = grids[0];
  if (grid && grid.faces.length >= least) return gridLaid(own, finder, picked ? grids : [grid], spacing);
  return picked && faces.length < all.length ? null : borderLaid(own, spacing);
}

function gridLaid(own: LaidShell, finder: GridFinder, grids: readonly QuadGrid[], spacing: Spacing): Straightened {
  const { shape, density, pointOf } = own;
  const to = own.uv.slice();
  const held = new Uint8Array(to.length / 2);
  const world = worldPositions(shape.mesh, shape.metric);
  for (const grid of grids) {
    const flat = finder.rectangle(grid, world, spacing);
    const points = grid.wedges.map((w) => pointOf.get(w)!);
    putPoints(to, points, laidLike(own, points, flat, density));
    for (const p of points) held[p] = 1;
  }
  return { ...own, to, held };
}

/** A shell with four corners: its border as a rectangle. @param picked 1 by wedge, for corners that are picked */
function borderLaid(own: LaidShell, spacing: Spacing, picked?: Uint8Array): Straightened | null {
  const form = formOf(own.form);
  const [loop] = form.loops;
  if (!form.isDisk || !loop) return null;
  const corners = picked
    ? [...loop.keys()].filter((i) => picked[own.form.wedges[loop[i]!]!])
    : fourCorners(own.form, loop);
  if (corners?.length !== 4) return null;
  const to = own.uv.slice();
  const held = new Uint8Array(to.length / 2);
  putPoints(to, loop!, laidLike(own, loop!, rectangleBorder(own.form, loop!, corners, spacing), own.density));
  for (const p of loop!) held[p] = 1;
  return { ...own, to, held };
}

/** Points at a shell's density and handedness, where they lay, by quarter turns as they lay. */
function laidLike(own: LaidShell, points: readonly number[], flat: Float64Array, density: number): Float64Array {
  const old = pickPoints(own.uv, points);
  const side = Math.sign(layoutArea(own.form.triangles, own.uv)) || 1;
  const sized = flat.map((x, i) => (i % 2 ? x * density : side * x * density));
  const { angle } = bestFit(sized, old);
  const upright = turned(sized, (Math.PI / 2) * Math.round(angle / (Math.PI / 2)));
  const n = points.length;
  const middle = (uv: Float64Array, d: number) => points.reduce((sum, _, i) => sum + uv[2 * i + d]!, 0) / n;
  const by = [0, 1].map((d) => middle(old, d) - middle(upright, d));
  return upright.map((x, i) => x + by[i % 2]!);
}
