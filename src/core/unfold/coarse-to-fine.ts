import type { Kernels } from "../kernels/kernels";
import { BorderBarrier } from "./border-barrier";
import { coarsening, remaining } from "./coarsened";
import { conformalMap } from "./conformal";
import { StretchMinimiser } from "./minimise-stretch";
import type { ShellMesh } from "./shell-mesh";
import { newPlan } from "./shell-plans";
import { ShellShapes, ShellSystem } from "./shell-system";
import { tutteMap } from "./tutte";

/** Points of the coarsest level: few enough that passes from a round map cost nothing, enough to keep the form's limbs. */
const BASE = 400;
/** From level to level so many times more points, and from passes to passes: in between points are only smoothed. */
const RATIO = 2;
const PASS_RATIO = 3.9;
const MOST_BASE_PASSES = 60;
const BASE_ENOUGH = 1e-4;
/** Passes of the other levels; a coarse level's least is not that of the next, and need not be reached. */
const LEVEL_PASSES = 8;
const LEVEL_ENOUGH = 1e-3;
/** Sweeps over all points, and over those of triangles whose energy is above a bound. */
export const SWEEPS = { all: 3, sick: 20, above: 2 } as const;

/** A disk with fewer points, and how many were taken out of the whole by then. */
interface Level {
  readonly triangles: Uint32Array;
  readonly taken: number;
}

export interface CoarseOptions {
  /** Keep the border from meeting itself. */
  readonly apart: boolean;
  /** The border, in the direction of the faces. */
  readonly loop: readonly number[];
  /** Asked between steps, with the share of the work that is done: true to go on without minimising. */
  readonly isOver?: ((share: number) => boolean) | undefined;
  /** The coarser disks, where they are there already; nothing else was made coarser with these kernels since. */
  readonly coarser?: Coarser | undefined;
}

/** A disk made coarser step by step, in the memory of kernels. */
export interface Coarser {
  readonly places: number;
  readonly levels: readonly Level[];
}

/** Makes a disk coarser. What it takes of the memory is needed to put points back. */
export function coarserDisks(kernels: Kernels, shell: ShellMesh): Coarser {
  const places = kernels.put(shell.positions);
  return { places, levels: coarserLevels(kernels, shell, places) };
}

/** Points of the coarser disk whose conformal map tells what that of the whole is like. */
const TELLING = 2000;

/** The conformal map of a coarser disk: its energy, which that of the whole is not far below, and whether it crosses itself. */
export function conformalAhead(kernels: Kernels, shell: ShellMesh, { levels }: Coarser, loop: readonly number[]) {
  const points = shell.positions.length / 3;
  const level = levels.findLast(({ taken }) => points - taken >= TELLING) ?? levels[0]!;
  return kernels.during(() => {
    const part = partOf(shell, level.triangles);
    const border = loop.map((v) => part.numberOf[v]!).filter((v) => v >= 0);
    const system = new ShellSystem(new ShellShapes(kernels, part.shell), [], newPlan);
    const map = conformalMap(system, border);
    if (!map) return { energy: Infinity, crosses: false };
    const at = system.takePairs();
    system.write(map, at);
    return { energy: system.energy(at), crosses: new BorderBarrier(system, border).crosses(at) };
  });
}

/**
 * A map of a disk without flips near the least stretch, by way of coarser disks: the coarsest is laid on a circle and
 * minimised, then points are put back, smoothed, and every second level minimised again.
 *
 * @returns 2 per point, in the lengths of space; null where the coarsest cannot be laid out
 * Source: Hormann, Greiner, Campagna, Hierarchical parametrization of triangulated surfaces (1999).
 */
export function coarseToFine(
  kernels: Kernels,
  shell: ShellMesh,
  { apart, loop, isOver, coarser }: CoarseOptions,
): Float64Array | null {
  const points = shell.positions.length / 3;
  return kernels.during(() => {
    const { places, levels } = coarser ?? coarserDisks(kernels, shell);
    const map = kernels.take(16 * points);
    let over = false;
    let minimisedAt = 0;
    for (let l = levels.length - 1; l >= 0; l--) {
      const { triangles, taken } = levels[l]!;
      over ||= isOver?.((points - taken) / points / 2) ?? false;
      const part = partOf(shell, triangles);
      const isBase = l === levels.length - 1;
      const minimises = isBase || points - taken >= PASS_RATIO * minimisedAt;
      if (minimises) minimisedAt = points - taken;
      const old = isBase ? null : gathered(kernels.f64(map, 2 * points), part.points);
      const how = over ? "not" : minimises ? "minimised" : "smoothed";
      // Points of the border go along it only: those that are left are the border in the same order.
      const left = loop.filter((v) => part.numberOf[v]! >= 0);
      const border = left.map((v) => part.numberOf[v]!);
      const now = kernels.during(() => improved(kernels, part, border, old, how, apart));
      if (!now) return null;
      spread(now, part.points, kernels.f64(map, 2 * points));
      kernels.during(() => {
        const back = taken - (l ? levels[l - 1]!.taken : 0);
        if (apart) growBorder(kernels, map, points, left, back);
        else kernels.code.forgetBorder();
        kernels.code.putBack(taken, taken - back, places, map, 1);
      });
    }
    return kernels.f64(map, 2 * points).slice();
  });
}

/** The levels of a disk, each with half of the points of the one before; the first has all but half of them taken out. */
function coarserLevels(kernels: Kernels, shell: ShellMesh, places: number): Level[] {
  const levels: Level[] = [];
  const points = shell.positions.length / 3;
  coarsening(kernels, shell, places, ({ triangles, gone }) => {
    for (let left = points / RATIO; ; left /= RATIO) {
      const isLast = left <= 1.5 * BASE;
      const taken = kernels.code.coarsenTo(isLast ? Math.min(BASE, points) : Math.floor(left));
      levels.push({ triangles: remaining(kernels, triangles, gone, shell.triangles.length / 3), taken });
      if (isLast) return;
    }
  });
  return levels;
}

interface Part {
  readonly shell: ShellMesh;
  /** The whole's number of every point, and the number here of the whole's, -1 for none. */
  readonly points: Uint32Array;
  readonly numberOf: Int32Array;
}

/** Some triangles as a shell with points of its own. */
function partOf({ positions }: ShellMesh, triangles: Uint32Array): Part {
  const local = new Int32Array(positions.length / 3).fill(-1);
  const points = new Uint32Array(triangles.length);
  const own = new Uint32Array(triangles.length);
  let count = 0;
  for (let c = 0; c < triangles.length; c++) {
    const v = triangles[c]!;
    if (local[v]! < 0) {
      local[v] = count;
      points[count++] = v;
    }
    own[c] = local[v]!;
  }
  const places = new Float64Array(3 * count);
  for (let i = 0; i < count; i++) for (let d = 0; d < 3; d++) places[3 * i + d] = positions[3 * points[i]! + d]!;
  const wedges = points.slice(0, count);
  return { shell: { triangles: own, positions: places, wedges }, points: wedges, numberOf: local };
}

function gathered(map: Float64Array, points: Uint32Array): Float64Array {
  const out = new Float64Array(2 * points.length);
  for (let i = 0; i < points.length; i++) {
    out[2 * i] = map[2 * points[i]!]!;
    out[2 * i + 1] = map[2 * points[i]! + 1]!;
  }
  return out;
}
function spread(part: Float64Array, points: Uint32Array, map: Float64Array): void {
  for (let i = 0; i < points.length; i++) {
    map[2 * points[i]!] = part[2 * i]!;
    map[2 * points[i]! + 1] = part[2 * i + 1]!;
  }
}

/** Has border points put back so that the border stays simple. @param back how many points are put back */
function growBorder(kernels: Kernels, map: number, points: number, loop: readonly number[], back: number): void {
  let cells = 1024;
  while (cells < 8 * loop.length) cells *= 2;
  // Of what is put back not more lies on the border than there is of it, but for a few.
  const most = 16 * (loop.length + 2 * Math.min(back, 2 * loop.length + 64)) + 64;
  const at = kernels.put(Uint32Array.from(loop));
  const following = kernels.take(4 * points);
  kernels.i32(following, points).fill(-1);
  const scratch = kernels.take(4 * cells + 12 * most);
  kernels.code.growBorder(loop.length, at, map, cells, following, scratch, most);
}

/** A level's map made better, in the lengths of space; the first one without an old one. */
function improved(
  kernels: Kernels,
  { shell }: Part,
  loop: readonly number[],
  old: Float64Array | null,
  how: "not" | "smoothed" | "minimised",
  apart: boolean,
): Float64Array | null {
  if (old && how === "not") return old;
  const shapes = new ShellShapes(kernels, shell);
  const length = Math.sqrt(shapes.worldArea);
  if (!old) {
    const system = new ShellSystem(shapes, [], newPlan);
    const start = tutteMap(system, loop);
    if (!start) return null;
    const minimiser = new StretchMinimiser(system, apart ? new BorderBarrier(system, loop) : null);
    if (!Number.isFinite(minimiser.begin(start))) return null;
    minimiser.minimise({ passes: how === "minimised" ? MOST_BASE_PASSES : 4, enough: BASE_ENOUGH });
    return minimiser.map().map((x) => x * length);
  }
  const start = old.map((x) => x / length);
  if (how === "smoothed") {
    const map = kernels.put(start);
    let border = apart ? new BorderBarrier(shapes, loop) : null;
    if (border?.meets(map)) border = null;
    shapes.smooth(map, SWEEPS.all, 0, border);
    shapes.smooth(map, SWEEPS.sick, SWEEPS.above, border);
    return shapes.read(map).map((x) => x * length);
  }
  const close = apart ? closePoints(shapes, loop, start) : [];
  // Levels are worked on once.
  const system = new ShellSystem(shapes, close, newPlan);
  const minimiser = new StretchMinimiser(system, apart ? new BorderBarrier(system, loop) : null);
  if (!Number.isFinite(minimiser.begin(start))) return old;
  minimiser.smooth(SWEEPS.all, SWEEPS.sick, SWEEPS.above);
  minimiser.minimise({ passes: LEVEL_PASSES, enough: LEVEL_ENOUGH });
  return minimiser.map().map((x) => x * length);
}

/** Points of a border that may come to push each other, by the shell's numbers: systems keep entries for them. */
export function closePoints(shapes: ShellShapes, loop: readonly number[], map: Float64Array): Uint32Array {
  const { kernels } = shapes;
  return kernels.during(() => new BorderBarrier(shapes, loop).closePoints(kernels.put(map)));
}
