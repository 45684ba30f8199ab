import { type Between, type BetweenInput, measureBetween } from "../check/between";
import { type MeasureInput, measureShape } from "../check/measure-shape";
import type { ShapeFigures } from "../check/shape-figures";
import { type Codecs, decodeImage, encodePng, looksLikeDirections } from "../images/pixels";
import { type Redraw, redrawn } from "../images/redraw";
import { Interrupted } from "../kernels/kernels";
import type { Asset, Channel } from "../layout/asset";
import type { Bits } from "../layout/bits";
import { type Layout, type Structure, seedStructure } from "../layout/layout";
import type { DraftStyle } from "../layout/seam-wishes";
import { Stopped } from "../layout/stopped";
import type { PolyMesh } from "../mesh/poly-mesh";
import { seedTopology, type Topology } from "../mesh/topology";
import { seedTriangles, type Triangles } from "../mesh/triangulate";
import { type PageFound, type PagePacking, packPage } from "../pack/pack-page";
import { flatPlacements } from "../pack/page";
import type { Item } from "../pack/raster";
import { findFaults } from "../prepare/faults";
import { type Drafted, draftStages } from "../seams/draft";
import { draftPiece, type PieceAnswer, type PieceAsk } from "../seams/draft-piece";
import type { Halving } from "../seams/halved";
import { sourceOf } from "../seams/piece";
import { type ViewedPart, visibleFrom } from "../seams/visibility";
import { identicalCounts } from "../transfer/fingerprint";
import { cutWorthTelling } from "../unfold/easing-cut";
import { type Keeping, unfoldGuided } from "../unfold/guided-unfold";
import { type RelaxOptions, relaxed } from "../unfold/relax";
import type { ShellMesh } from "../unfold/shell-mesh";
import { bordersSmoothed, type SmoothBordersOptions } from "../unfold/smooth-borders";
import { type Unfolded, unfoldShell } from "../unfold/unfold-shell";
import type { Report } from "./report";

// Parts of an operation that can be done side by side, on workers: plain data in, plain data out. They are reached
// through a TaskRunner, which runs them here where there are no workers.

/** A shape as Draft takes it: a mesh, its vertices in world space, and what a seam along each edge costs. */
export interface DraftInput {
  readonly mesh: PolyMesh;
  readonly world: Float64Array;
  readonly cost: Float64Array;
  readonly angle: number;
  readonly limit: number;
  readonly style?: DraftStyle;
  readonly halving?: Halving;
  readonly up?: 1 | 2;
  readonly seams?: Bits;
  /** The way that points away from who looks. */
  readonly back?: readonly [number, number, number];
}

/** A shell as it is unfolded. */
export interface UnfoldInput {
  readonly form: ShellMesh;
  readonly passes: number;
  readonly overItself?: boolean;
  readonly lean?: number;
  readonly symmetric?: boolean;
}
export interface GuidedInput extends UnfoldInput {
  /** 2 a point: the layout it has. */
  readonly uv: Float64Array;
  readonly keeping: Keeping;
}

/** A shell as it is relaxed. */
export interface RelaxInput extends Omit<RelaxOptions, "isOver" | "onMap"> {
  readonly form: ShellMesh;
  readonly uv: Float64Array;
}

/** A shell whose borders are smoothed. */
export interface SmoothBordersInput extends Omit<SmoothBordersOptions, "isOver"> {
  readonly form: ShellMesh;
  readonly uv: Float64Array;
}

/** What follows from a shape's mesh and bits. */
export interface KnownOfShape {
  readonly topology: Topology;
  readonly triangles: Triangles;
  readonly structure: Structure;
}

function seedShape(mesh: PolyMesh, layout: Layout, { topology, triangles, structure }: KnownOfShape): void {
  seedTopology(mesh, topology);
  seedTriangles(mesh, triangles);
  seedStructure(mesh, layout, structure);
}

/** Whether telling was answered by the signal to stop. */
function isStopped(tell: () => void): boolean {
  try {
    tell();
    return false;
  } catch (error) {
    if (error instanceof Stopped) return true;
    throw error;
  }
}

/** Milliseconds between maps that are shown while work goes on. */
const SHOWN_EVERY = 150;

/** What work on one shell is asked and tells: whether it is over, and what it has come to. */
function watched(report: Report) {
  let done = 0;
  let last = performance.now();
  return {
    isOver(share: number): boolean {
      done = share;
      return isStopped(() => report(share));
    },
    onMap(read: () => Float64Array): void {
      if (performance.now() - last < SHOWN_EVERY) return;
      isStopped(() => report(done, read()));
      // Reading and handing on may take long themselves.
      last = performance.now();
    },
  };
}

/** Work that was ended before it had a result was stopped. */
function unlessEnded<T>(act: () => T): T {
  try {
    return act();
  } catch (error) {
    throw error instanceof Interrupted ? new Stopped() : error;
  }
}

/** Shells, and how they are packed into a page. */
export interface PackPageInput {
  readonly items: readonly Item[];
  readonly packing: PagePacking;
}

/** An image as it is drawn for another layout. */
export interface RedrawInput extends Pick<Redraw, "triangles" | "bleed"> {
  readonly bytes: Uint8Array;
  readonly name: string;
  readonly channels: ReadonlyArray<Channel | "color">;
  readonly codecs: Codecs;
}

export const tasks = {
  /** Unfolds one shell; stopped while it minimises stretch, it returns what it has reached. */
  unfoldShell: ({ form, ...options }: UnfoldInput, report: Report): Unfolded =>
    unlessEnded(() => unfoldShell(form, { ...options, ...watched(report) })),

  /** The cut that would ease a shell which is stretched to keep beside itself, as points of it; null for none worth telling. */
  easingCut: ({ form, energy, passes }: UnfoldInput & { readonly energy: number }): number[] | null =>
    cutWorthTelling(form, energy, passes),

  /** The same from the layout it has, keeping to what it is told. */
  unfoldGuided: ({ form, uv, keeping, ...options }: GuidedInput, report: Report): Unfolded =>
    unlessEnded(() => unfoldGuided(form, uv, keeping, { ...options, ...watched(report) })),

  /** Evens out the stretch of one shell, point by point. */
  relaxShell: ({ form, uv, ...options }: RelaxInput, report: Report) =>
    relaxed(form, uv, { ...options, ...watched(report) }),

  /** Takes spikes and kinks off the borders of one shell. */
  smoothBorders: ({ form, uv, ...options }: SmoothBordersInput, report: Report): Float64Array | null =>
    bordersSmoothed(form, uv, { ...options, isOver: (share) => isStopped(() => report(share)) }),

  /** Makes the layout of one shape from nothing, from that with the most seams to that with the fewest. */
  draftShape: ({ mesh, world, cost, ...options }: DraftInput, report: Report): Promise<Drafted> =>
    draftStages(sourceOf(mesh, world, cost), { ...options, onStep: report }),

  /** Works on one piece of a shape that is drafted elsewhere. */
  draftPiece(
    {
      mesh,
      world,
      cost,
      topology,
      triangles,
      ask,
    }: Pick<DraftInput, "mesh" | "world" | "cost"> & {
      readonly topology: Topology;
      readonly triangles: Triangles;
      readonly ask: PieceAsk;
    },
    report: Report,
  ): PieceAnswer {
    seedTopology(mesh, topology);
    seedTriangles(mesh, triangles);
    return draftPiece(sourceOf(mesh, world, cost), ask, () => report(0));
  },

  /** How openly faces are seen, summed over some directions. */
  visibleFrom: (
    {
      parts,
      weights,
      directions,
    }: { parts: readonly ViewedPart[]; weights: Float64Array; directions: readonly number[] },
    report: Report,
  ): Float32Array[] => visibleFrom(parts, weights, directions, report),

  /** Figures of all shells of one shape; what is known of its mesh comes along, so that nothing is derived again. */
  measureShape({ known, ...input }: MeasureInput & { known?: KnownOfShape }, report: Report): ShapeFigures {
    report(0);
    if (known) seedShape(input.mesh, input.layout, known);
    if (known && input.before) seedShape(input.mesh, input.before.layout, known);
    return measureShape(input);
  },

  /** What lies between shells. */
  measureBetween({ known, ...input }: BetweenInput & { known?: readonly KnownOfShape[] }, report: Report): Between {
    report(0);
    known?.forEach((k, n) => {
      seedShape(input.shapes[n]!.mesh, input.shapes[n]!.layout, k);
    });
    return measureBetween(input);
  },

  /** Packs shells into one page; stopped, it returns what it has reached. */
  packPage({ items, packing }: PackPageInput, report: Report): PageFound | null {
    let [done, last] = [0, 0];
    const step = (share: number) => {
      done = share;
      report(share);
    };
    const found = packPage(items, packing, step, (scale, placements) => {
      if (performance.now() - last < SHOWN_EVERY) return;
      last = performance.now();
      report(done, flatPlacements(scale, placements()));
    });
    // The last is told whenever it came; where it was stopped, nobody listens any more.
    if (found && !found.stopped) report(1, flatPlacements(found.scale, found.placements));
    return found;
  },

  /** Draws an image anew, out of its file into a file. */
  async redrawImage({ bytes, name, channels, codecs, ...how }: RedrawInput, report: Report) {
    const image = await decodeImage(bytes, codecs, name);
    report(0.25);
    // What is called a bump map is often one of directions.
    const directions = channels.includes("normal") || (channels.includes("bump") && looksLikeDirections(image));
    const { pixels, contested } = redrawn(image, { ...how, directions, report: (s) => report(0.25 + 0.35 * s) });
    return { bytes: await encodePng(pixels, codecs), contested };
  },

  identicalCounts: (asset: Asset, report: Report) => {
    report(0);
    return identicalCounts(asset);
  },

  findFaults: (asset: Asset, report: Report) => {
    report(0);
    return findFaults(asset);
  },
};
export type Tasks = typeof tasks;
