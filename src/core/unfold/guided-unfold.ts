import { Kernels, withKernels } from "../kernels/kernels";
import { bestFit, turned } from "../layout/orient";
import type { Way } from "../layout/ways";
import { sizedLike } from "./align";
import { BorderBarrier } from "./border-barrier";
import { hasHoles, mapOfLayout } from "./holes";
import { type Guide, STILL_U, STILL_V, StretchMinimiser } from "./minimise-stretch";
import { formOf, type ShellMesh } from "./shell-mesh";
import { ShellShapes, ShellSystem } from "./shell-system";
import { emphasisOf, type Unfolded, type UnfoldOptions, unfoldShell, watching, whyNotFlat } from "./unfold-shell";

/** What an unfolding keeps to; points by their numbers in the shell. */
export interface Keeping {
  /** 1 for every point that stays where it is. */
  readonly held?: Uint8Array | undefined;
  readonly way?: Way | undefined;
  /** Points that are drawn to places of the sheet, two numbers each. */
  readonly pulled?: { readonly points: Uint32Array; readonly places: Float64Array } | undefined;
  readonly overItself?: boolean | undefined;
  /** From -1 to keep angles to 1 to keep areas. */
  readonly lean?: number | undefined;
  /** Pulled points that cannot be where they are drawn to stay as near as they come; else that is refused. */
  readonly near?: boolean | undefined;
}

/** Of the energy, what a pass has to promise: what is mended by hand is a small part of it. */
const PROMISED = 1e-5;
const NONE = { points: new Uint32Array(0), places: new Float64Array(0) };

/**
 * A shell that is unfolded from the layout it has, at its density and handedness, keeping to what it is told: points that
 * stay, one direction, points drawn to places. No triangle flips, and the border does not come to cross itself.
 */
export class GuidedUnfold {
  /** Whether the layout it begins with has no flipped triangle, so that it can go on from there. */
  readonly isWhole: boolean;
  private readonly system: ShellSystem;
  private readonly minimiser: StretchMinimiser;
  private readonly border: BorderBarrier;
  /** From the lengths of the layout to those of maps, for u and for v. */
  private readonly scale: readonly [number, number];

  /** @param uv 2 a point, the layout it has */
  constructor(kernels: Kernels, shell: ShellMesh, uv: Float64Array, keeping: Keeping) {
    const disk = mapOfLayout(shell, uv);
    this.scale = disk.scale;
    const shapes = new ShellShapes(kernels, disk.shell);
    shapes.weigh();
    this.system = new ShellSystem(shapes);
    this.border = new BorderBarrier(this.system, formOf(disk.shell).loops[0]!);
    const guide = this.guideOf(keeping);
    this.minimiser = new StretchMinimiser(
      this.system,
      keeping.overItself ? null : this.border,
      guide,
      emphasisOf(keeping.lean),
    );
    this.isWhole = Number.isFinite(this.minimiser.begin(disk.map));
  }

  private guideOf({ held, way = "both", pulled = NONE }: Keeping): Guide {
    const still = new Uint8Array(this.system.points).fill(way === "u" ? STILL_V : way === "v" ? STILL_U : 0);
    held?.forEach((on, v) => {
      if (on) still[this.system.numberOf(v)] = STILL_U | STILL_V;
    });
    return { still, pulled: pulled.points.map((v) => this.system.numberOf(v)), places: this.scaled(pulled.places) };
  }

  private scaled(uv: Float64Array): Float64Array {
    return uv.map((x, i) => x * this.scale[i % 2]!);
  }

  /** Goes on until little is to be gained. @param read the layout as it is, to be shown */
  minimise({ passes, until, onStep, onMap, isOver }: UnfoldOptions, read?: () => Float64Array): void {
    const share = isOver && ((pass: number) => isOver(1 - 1 / (1 + pass)));
    const onPass = () => {
      onStep?.();
      if (read) onMap?.(read);
    };
    this.minimiser.minimise({ passes, promised: PROMISED, until, onPass, isOver: share });
  }

  /** Follows pulled points for some milliseconds. @param places of the sheet, in their order @returns whether there is more to come */
  follow(places: Float64Array, milliseconds: number): boolean {
    return this.minimiser.follow(this.scaled(places), milliseconds);
  }

  /** Puts pulled points exactly where they are drawn to. @returns whether that flips nothing; if not they stay near it */
  arrive(): boolean {
    return this.minimiser.arrive();
  }

  /** The energy of the layout as it is now, and whether its border crosses itself. */
  judged(): { energy: number; crosses: boolean } {
    return this.minimiser.judged(this.border);
  }

  /** The layout as it is now; what stays does so to the last bit. @param from the layout it began with */
  uv(from: Float64Array, held?: Uint8Array, way: Way = "both"): Float64Array {
    const map = this.minimiser.map().subarray(0, from.length);
    for (let i = 0; i < map.length; i++) {
      const stays = held?.[i >> 1] || (way === "u" && i % 2 === 1) || (way === "v" && i % 2 === 0);
      map[i] = stays ? from[i]! : map[i]! / this.scale[i % 2]!;
    }
    return map;
  }
}

const TANGLED = "has flipped faces where it lies; unfold it without pins and directions first";

/** Unfolds a shell from the layout it has, keeping to what it is told. @returns the layout, in the lengths it had */
export function unfoldGuided(shell: ShellMesh, uv: Float64Array, keeping: Keeping, options: UnfoldOptions): Unfolded {
  const form = formOf(shell);
  const reason = whyNotFlat(form);
  if (reason && !hasHoles(form)) return { ok: false, reason };
  const watch = watching(options);
  return withKernels((kernels) => {
    const solved = (work: GuidedUnfold): Unfolded => {
      const reached = () => work.uv(uv, keeping.held, keeping.way);
      work.minimise(watch.options, reached);
      if (keeping.pulled && !work.arrive() && !keeping.near)
        return {
          ok: false,
          reason: "cannot have its points there: a face would flip, or its border would cross itself",
        };
      return { ok: true, uv: reached(), ...work.judged() };
    };
    const straight = kernels.during(() => {
      const work = new GuidedUnfold(kernels, shell, uv, keeping);
      return work.isWhole ? solved(work) : null;
    });
    if (straight) return straight;
    const from = untangled(kernels, shell, uv, keeping, watch.options);
    return typeof from === "string"
      ? { ok: false, reason: from }
      : solved(new GuidedUnfold(kernels, shell, from, keeping));
  }, watch.isOver);
}

/** Passes in which held points of a tangled shell are drawn to their places. */
const DRAWING = 40;

/** A layout of a tangled shell without flips that has its held points where they are, or in words why there is none. */
function untangled(
  kernels: Kernels,
  shell: ShellMesh,
  uv: Float64Array,
  { held, way = "both", overItself }: Keeping,
  options: UnfoldOptions,
): Float64Array | string {
  const points = Uint32Array.from(held?.keys() ?? []).filter((v) => held![v]);
  if (way !== "both" || !points.length) return TANGLED;
  const free = unfoldShell(shell, { ...options, overItself });
  if (!free.ok) return free.reason;
  const places = pick(uv, points);
  const start = alignedTo(shell, uv, free.uv, points, places);
  return kernels.during(() => {
    const work = new GuidedUnfold(kernels, shell, start, { pulled: { points, places }, overItself });
    work.minimise({ passes: DRAWING });
    if (!work.isWhole || !work.arrive())
      return "cannot keep its pinned points where they are: a face would flip, or its border would cross itself; move or unpin some";
    return work.uv(start);
  });
}

const pick = (uv: Float64Array, points: Uint32Array): Float64Array =>
  Float64Array.from({ length: 2 * points.length }, (_, i) => uv[2 * points[i >> 1]! + (i & 1)]!);

/** A map moved and turned so that some of its points lie near places; at the density that the old one has, where it has one. */
function alignedTo(
  { triangles }: ShellMesh,
  old: Float64Array,
  map: Float64Array,
  points: Uint32Array,
  places: Float64Array,
): Float64Array {
  const sized = sizedLike(triangles, old, map);
  const { angle } = points.length > 1 ? bestFit(pick(sized, points), places) : { angle: 0 };
  const upright = turned(sized, angle);
  const there = pick(upright, points);
  const shift = [0, 1].map((d) => meanOf(places, d) - meanOf(there, d));
  return upright.map((x, i) => x + shift[i % 2]!);
}

const meanOf = (pairs: Float64Array, d: number): number =>
  pairs.reduce((sum, x, i) => sum + (i % 2 === d ? x : 0), 0) / (pairs.length / 2);

/** A guided unfolding with kernels of its own, for as long as it is worked on under the pointer. */
export const liveUnfold = (shell: ShellMesh, uv: Float64Array, keeping: Keeping): GuidedUnfold =>
  new GuidedUnfold(new Kernels(), shell, uv, keeping);
