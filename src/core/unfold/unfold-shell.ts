import { Interrupted, withKernels } from "../kernels/kernels";
import { layoutArea } from "./area";
import { BorderBarrier } from "./border-barrier";
import { type Coarser, closePoints, coarserDisks, coarseToFine, conformalAhead, SWEEPS } from "./coarse-to-fine";
import { conformalMap } from "./conformal";
import { hasHoles, holesFilled, withoutFilling } from "./holes";
import { StretchMinimiser } from "./minimise-stretch";
import { rolledOut } from "./rolled-out";
import { formOf, type ShellForm, type ShellMesh, shellArea } from "./shell-mesh";
import { type Emphasis, ShellShapes, ShellSystem } from "./shell-system";
import { madeSymmetric, mirrorOf } from "./symmetry";
import { tutteMap } from "./tutte";

/** A shell that lies flat. */
interface Flat {
  readonly ok: true;
  /** 2 per point; world lengths (areas of the map and of the shell in world space are alike). */
  readonly uv: Float64Array;
  readonly energy: number;
  /** Whether the border crosses itself; sides that touch do not. */
  readonly crosses: boolean;
  /** Whether its conformal map crossed itself: it may be stretched only to keep beside itself. */
  readonly windsAbout?: boolean;
}

export type Unfolded = Flat | { readonly ok: false; readonly reason: string };

/** In words, why a shell of this form cannot be laid flat; nothing for a disk. */
export function whyNotFlat(form: ShellForm): string | null {
  if (form.isDisk) return null;
  if (form.faults) return "has faces that are wound against each other or share more than two to an edge";
  if (!form.loops.length) return "is closed";
  if (form.genus) return form.genus === 1 ? "has a handle" : `has ${form.genus} handles`;
  return form.loops.length === 2 ? "is a tube or ring: it has two borders" : `has ${form.loops.length} borders`;
}

export interface UnfoldOptions {
  /** Factorisations at full size, at the most; 0 keeps angles only. */
  readonly passes: number;
  /** Lets the shell lie over itself where that lessens stretch; kept from it where not given. */
  readonly overItself?: boolean | undefined;
  /** From -1 to keep angles, over 0, to 1 to keep areas; 0 where not given. */
  readonly lean?: number | undefined;
  /** Makes what comes of a shell that mirrors the same on both sides. */
  readonly symmetric?: boolean | undefined;
  /** Energy at which the work is done. */
  readonly until?: number | undefined;
  /** Energy above which the map is of no use: the work is given up where it would surely come to lie above. */
  readonly above?: number | undefined;
  /** Called between steps; throws to stop the work. */
  readonly onStep?: (() => void) | undefined;
  /** Told between steps of what was reached: reading gives the points as they would be returned. */
  readonly onMap?: ((read: () => Float64Array) => void) | undefined;
  /** Asked between steps, with the share of the work that is done: true to end with what was reached. */
  readonly isOver?: ((share: number) => boolean) | undefined;
}

/** Of the energy, what a pass has to promise to be taken: the gap to the least stretch is about as large. */
const PROMISED = 2e-3;
/** What angles or areas weigh besides lengths, where all that can be is asked for. */
const MOST = 30;

/** What angles and areas weigh for a leaning from -1 to 1: little near the middle, more and more towards its ends. */
export const emphasisOf = (lean = 0): Emphasis => {
  const weight = MOST * Math.abs(lean) ** 3;
  return lean < 0 ? { angles: weight, areas: 0 } : { angles: 0, areas: weight };
};

/** Mean energy below which the conformal map is a start that passes go on from; above, the way is by coarser shells. */
const EVEN = 1.5;
/** Points below which passes from a round map are quicker than coarser shells. */
const SMALL = 900;
/** The share of the work that is done when minimising at full size begins. */
const STARTED = 0.6;

/** Mean energy above which a shell with holes is not flat enough to be laid out with them: a tube, a lampshade. */
const HOLED = 1.003;

/**
 * Unfolds one shell. A shell with holes keeps them where it is nearly flat; one that is no disk otherwise is not guessed
 * at: the answer says what it is. Without passes the conformal map is kept (angles only).
 */
export function unfoldShell(shell: ShellMesh, options: UnfoldOptions): Unfolded {
  const form = formOf(shell);
  const reason = whyNotFlat(form);
  if (reason && !hasHoles(form)) return { ok: false, reason };
  if (reason) {
    const { onMap } = options;
    const shown = onMap && ((read: () => Float64Array) => onMap(() => withoutFilling(shell, read()).uv));
    const filled = unfoldShell(holesFilled(shell, form).shell, { ...options, onMap: shown });
    if (!filled.ok) return { ok: false, reason };
    const own = withoutFilling(shell, filled.uv);
    return own.energy < HOLED ? { ...filled, ...own } : { ok: false, reason };
  }
  if (!(shellArea(shell) > 0)) return { ok: false, reason: "has no area" };
  const watch = watching(options);
  return withKernels((kernels) => {
    const shapes = new ShellShapes(kernels, shell);
    const work = workOn(shapes, form.loops[0]!);
    const start = startMap(work, watch.options, true);
    if (!start) return { ok: false, reason: "is too crumpled to lay flat in one piece" };
    const first = finished(work, start, watch.options);
    if (!options.passes || options.overItself || !first.crosses) return first;
    if (first.energy > (options.above ?? Infinity)) return first;
    // Sides that touched at the start are not kept apart, and came to cross: then from a start where nothing touches.
    return unlessInterrupted(
      () => first,
      () => {
        const other = startMap(work, watch.options, false);
        const second = other && finished(work, other, watch.options);
        return second && !second.crosses ? second : first;
      },
    );
  }, watch.isOver);
}

/** The options, and what is asked in the middle of long work: whether it is over, with the share that was told last. */
export function watching(options: UnfoldOptions): { options: UnfoldOptions; isOver: (() => boolean) | null } {
  const { isOver } = options;
  if (!isOver) return { options, isOver: null };
  let last = 0;
  const ask = (share: number): boolean => {
    last = share;
    return isOver(share);
  };
  return { options: { ...options, isOver: ask }, isOver: () => isOver(last) };
}

/** What comes of some work, or what there was before where that is ended in the middle. */
function unlessInterrupted<T>(before: () => T, act: () => T): T {
  try {
    return act();
  } catch (error) {
    if (error instanceof Interrupted) return before();
    throw error;
  }
}

/** Goes on with a map of a shell that flips no triangle. */
export function unfoldFurther(shell: ShellMesh, uv: Float64Array, options: UnfoldOptions): Unfolded {
  if (!(shellArea(shell) > 0)) return { ok: false, reason: "has no area" };
  return withKernels((kernels) => {
    const shapes = new ShellShapes(kernels, shell);
    const map = kernels.put(uv);
    if (!Number.isFinite(shapes.energy(map))) return { ok: false, reason: "has flipped triangles" };
    return finished(workOn(shapes, formOf(shell).loops[0]!), { map: uv, isRough: false }, options);
  });
}

interface Start {
  readonly map: Float64Array;
  /** It comes from coarser shells: points just put back are smoothed before anything is minimised. */
  readonly isRough: boolean;
  /** The conformal map crosses itself. */
  readonly windsAbout?: boolean;
}

interface Work {
  readonly shapes: ShellShapes;
  /** Its linear system, made when it is first asked for; not within what gives memory back. */
  system(): ShellSystem;
  readonly shell: ShellMesh;
  /** The border, in the direction of the faces. */
  readonly loop: readonly number[];
}

function workOn(shapes: ShellShapes, loop: readonly number[]): Work {
  let system: ShellSystem | null = null;
  return {
    shapes,
    shell: shapes.shell,
    loop,
    system() {
      system ??= new ShellSystem(shapes);
      return system;
    },
  };
}

/** The system again, with entries for border points that may come to push each other, where there are any. */
function coupled({ shapes, loop, system }: Work, map: Float64Array): ShellSystem {
  const unit = Math.sqrt(shapes.worldArea);
  const close = closePoints(
    shapes,
    loop,
    map.map((x) => x / unit),
  );
  return close.length ? new ShellSystem(shapes, close) : system();
}

function finished(work: Work, start: Start, options: UnfoldOptions): Flat {
  const asItIs = () => ({ ...judged(work, start.map), uv: start.map });
  const better = unlessInterrupted(asItIs, () => improved(work, start, options));
  // Whoever has stopped it waits for what was reached.
  const evens = options.symmetric && !work.shapes.kernels.isOver?.();
  const { energy, crosses, uv } = (evens && symmetric(work, better)) || better;
  return { ok: true, uv: toWorldArea(uv, work.shapes), energy, crosses, windsAbout: start.windsAbout };
}

interface Judged {
  readonly uv: Float64Array;
  readonly energy: number;
  readonly crosses: boolean;
}

/** Of the energy, what being the same on both sides may cost: more shows that the map is not nearly so. */
const EVENNESS = 1.005;

/** The map the same on both sides where the shell is; nothing where it is not, or where that costs something. */
function symmetric(work: Work, { uv, energy, crosses }: Judged): Judged | null {
  const images = mirrorOf(work.shell);
  const even = images && madeSymmetric(work.shell.triangles, uv, images);
  if (!even) return null;
  const now = judged(work, even);
  return now.energy <= EVENNESS * energy && (crosses || !now.crosses) ? { ...now, uv: even } : null;
}

/** The map with less stretch. */
function improved(work: Work, { map, isRough }: Start, options: UnfoldOptions): Judged {
  const { passes, until, above, onStep, onMap, isOver, overItself } = options;
  const { shapes, loop } = work;
  const system = isRough && !overItself ? coupled(work, map) : work.system();
  const border = new BorderBarrier(system, loop);
  const minimiser = new StretchMinimiser(system, overItself ? null : border, null, emphasisOf(options.lean));
  const weighEvenly = shapes.weigh();
  try {
    minimiser.begin(map);
    if (passes > 0) {
      if (isRough) minimiser.smooth(SWEEPS.all, SWEEPS.sick, SWEEPS.above);
      const share = isOver && ((pass: number) => isOver(1 - (1 - STARTED) / (1 + pass)));
      const onPass = () => {
        onStep?.();
        onMap?.(() => toWorldArea(minimiser.map(), shapes));
      };
      minimiser.minimise({ passes, promised: PROMISED, until, above, onPass, isOver: share });
    }
  } finally {
    weighEvenly();
  }
  return { ...minimiser.judged(border), uv: minimiser.map() };
}

/** The energy of a map, and whether its border crosses itself. */
function judged({ shapes, loop }: Work, map: Float64Array | null): { energy: number; crosses: boolean } {
  if (!map) return { energy: Infinity, crosses: true };
  return shapes.kernels.during(() => {
    const at = shapes.kernels.put(map);
    return { energy: shapes.energy(at), crosses: new BorderBarrier(shapes, loop).crosses(at) };
  });
}

/** Points from which on coarser disks are looked at first, so that what they show to be uneven is not mapped in vain. */
const MANY = 20_000;
/**
 * Energy of a coarser disk's conformal map above which that of the whole is surely not even. One with flips tells nothing:
 * coarse triangles are blunter.
 */
const UNEVEN = 1.8;

/** The conformal map of a shell with its energy; nothing where coarser disks show that it would not serve. */
function conformalStart(work: Work, coarser: Coarser | undefined) {
  const { shapes, shell, loop } = work;
  const { kernels } = shapes;
  const ahead = coarser && conformalAhead(kernels, shell, coarser, loop);
  if (ahead && ahead.energy > UNEVEN && Number.isFinite(ahead.energy))
    return { map: null, energy: Infinity, crosses: ahead.crosses };
  const system = work.system();
  const map = kernels.during(() => conformalMap(system, loop));
  kernels.pauseAfter(shapes.points);
  const out = { map, ...judged(work, map) };
  kernels.pauseAfter(shapes.points);
  return { ...out, crosses: map !== null && out.crosses };
}

/** How many times more a conformal map may be stretched than what is asked for, so that it may come to that. */
const STRETCHED = 12;

/** Whether a first map tells that one within a bound would not be found. */
const isHopeless = (energy: number, above = Infinity): boolean =>
  Number.isFinite(energy) && energy - 1 > STRETCHED * (above - 1);

/** @param mayBeConformal whether the conformal map may serve */
function startMap(work: Work, options: UnfoldOptions, mayBeConformal: boolean): Start | null {
  const { shapes, shell, loop } = work;
  const { kernels, points } = shapes;
  const { onStep, isOver, passes, overItself } = options;
  const coarser = passes && points > MANY ? coarserDisks(kernels, shell) : undefined;
  let first = conformalStart(work, coarser);
  // Needles flip in the conformal map of a shell that could be rolled out as it is.
  if (passes && first.map && !Number.isFinite(first.energy)) {
    const rolled = rolledOut(shell).map((x) => x / Math.sqrt(shapes.worldArea));
    const found = judged(work, rolled);
    if (found.energy < EVEN) first = { map: rolled, ...found };
  }
  if (isHopeless(first.energy, options.above)) return null;
  const serves = first.energy < (passes ? EVEN : Infinity) && (!passes || overItself || !first.crosses);
  if (first.map && serves && mayBeConformal) return { map: first.map, isRough: false };
  const windsAbout = first.crosses;
  const ask = (share: number): boolean => {
    onStep?.();
    return isOver?.(STARTED * share) ?? false;
  };
  if (points > SMALL && passes) {
    const map = coarseToFine(kernels, shell, { apart: !overItself, loop, isOver: ask, coarser });
    if (Number.isFinite(judged(work, map).energy)) return { map: map!, isRough: true, windsAbout };
    if (!first.map) first = conformalStart(work, undefined);
  }
  const system = work.system();
  const round = kernels.during(() => tutteMap(system, loop));
  const second = judged(work, round);
  if (!Number.isFinite(first.energy) && !Number.isFinite(second.energy)) return null;
  const takesFirst = first.energy <= second.energy && (!passes || overItself || (mayBeConformal && !first.crosses));
  return { map: (takesFirst ? first.map : round)!, isRough: false, windsAbout };
}

function toWorldArea(map: Float64Array, { shell, worldArea }: ShellShapes): Float64Array {
  const scale = Math.sqrt(worldArea / layoutArea(shell.triangles, map));
  return map.map((v) => v * scale);
}
