import { Interrupted } from "../kernels/kernels";
import type { BorderBarrier } from "./border-barrier";
import { type Emphasis, EVENLY, type ShellSystem } from "./shell-system";

export interface MinimiseOptions {
  /** How many factorisations at the most. */
  readonly passes: number;
  /** Of the energy, the gain that a pass promises below which the work is done; it tells the gap within about 2. */
  readonly promised?: number | undefined;
  /** Relative gain of a whole pass below which the work is done. */
  readonly enough?: number | undefined;
  /** Energy at which the work is done. */
  readonly until?: number | undefined;
  /** Energy above which the result is of no use: the work is given up where the least is surely above it. */
  readonly above?: number | undefined;
  /** Called before each pass, and between its steps; throws to stop the work. */
  readonly onPass?: ((pass: number) => void) | undefined;
  /** Asked at the same times, with the pass: true to end with what was reached. */
  readonly isOver?: ((pass: number) => boolean) | undefined;
}

/** Bits of a coordinate that stays where it is. */
export const STILL_U = 1;
export const STILL_V = 2;

/** What a map is to keep to while it is minimised, by the numbers of its system. */
export interface Guide {
  /** A byte a point: which of its coordinates stay. */
  readonly still: Uint8Array;
  /** Points that are drawn to places, of two numbers each. */
  readonly pulled: Uint32Array;
  places: Float64Array;
}

/** When a pass, and the work, is done. */
type Bounds = { readonly [Key in "promised" | "enough" | "until" | "above"]: number };

export interface Minimised {
  /** Mean of (s1^2 + s2^2 + 1/s1^2 + 1/s2^2) / 4 over the area; 1 where nothing is stretched. */
  readonly energy: number;
  readonly passes: number;
}

/** Quasi-Newton steps taken on one factorisation, at the most. */
const STEPS_PER_PASS = 20;
/** A step that gains less than this share of the pass's first one ends the pass. */
const FADED = 0.02;
/** A first step that has to end so far before a flip is not taken: what stands in its way is smoothed instead. */
const BLOCKED = 0.3;
/** Sweeps of that smoothing, and times the mean energy from which on triangles are part of it. */
const HEALING = 20;
const SICK = 3;
/** Times what a pass promises to gain: what is surely not gained in all. */
const SURELY = 4;
/** How much a point that is drawn to a place weighs, times what one has of the metric. */
const PULL = 1000;
/** Steps under the pointer after which the metric is factored anew. */
const STEPS_PER_FACTOR = 40;
/** Of the energy, what a step under the pointer has to promise to be taken. */
const SETTLED = 1e-7;
/** Bytes that steps are remembered in, at the most. */
const MEMORY = 512 * 2 ** 20;

/** What one step led to. */
interface Pair {
  readonly s: number;
  readonly y: number;
  readonly rho: number;
}

function keepStill(pairs: Float64Array, still: Uint8Array): void {
  for (let p = 0; p < still.length; p++) {
    const bits = still[p]!;
    if (bits & STILL_U) pairs[2 * p] = 0;
    if (bits & STILL_V) pairs[2 * p + 1] = 0;
  }
}

/**
 * Minimises the symmetric Dirichlet energy of a map without flipping a triangle. A pass factors a scalar metric, one
 * unknown a point, and takes limited-memory quasi-Newton steps on it; every step stops short of the first flip. With a
 * barrier no step makes the border cross itself, as long as it does not from the start.
 *
 * Source: Smith, Schaefer, Bijective parameterization with free boundaries (2015) for energy and line search;
 * Liu, Bouaziz, Kavan, Quasi-Newton methods for real-time simulation (2017) for steps on one factorisation.
 */
export class StretchMinimiser {
  /** The map: pairs in the order of elimination. */
  private x: number;
  private next: number;
  private gradient: number;
  private nextGradient: number;
  private readonly step: number;
  private readonly memories: Array<{ s: number; y: number }> = [];
  private readonly mostMemories: number;
  /** Of the map, and of the one that the line search tries: with what the border costs, and without. */
  private energy = Infinity;
  private stretch = Infinity;
  private nextEnergy = Infinity;
  private nextStretch = Infinity;
  /** What the stretch has of the energy that was looked at last. */
  private lastStretch = Infinity;
  /** The weight of pulled points. */
  private pull = 0;
  /** Steps under the pointer since the metric was factored; -1 before it was for the first time. */
  private stepsOnFactor = -1;

  constructor(
    private readonly system: ShellSystem,
    private border: BorderBarrier | null = null,
    private readonly guide: Guide | null = null,
    private readonly emphasis: Emphasis = EVENLY,
  ) {
    this.x = system.takePairs();
    this.next = system.takePairs();
    this.gradient = system.takePairs();
    this.nextGradient = system.takePairs();
    this.step = system.takePairs();
    this.mostMemories = Math.max(2, Math.min(STEPS_PER_PASS, Math.floor(MEMORY / (32 * system.points))));
  }

  /** Begins with a map, scaled to its least energy. @returns its energy, infinite where a triangle is flipped */
  begin(map: Float64Array): number {
    this.system.write(map, this.x);
    // What is held in its place cannot be scaled.
    this.stretch = this.guide ? this.system.energy(this.x) : this.atBestScale();
    // A border that meets itself already is not kept from it: nothing would ever be allowed to move.
    if (this.border?.meets(this.x)) this.border = null;
    return this.stretch;
  }

  /** The mean energy of the map as it is, and whether a border of it crosses itself. */
  judged(border: BorderBarrier): { energy: number; crosses: boolean } {
    return { energy: this.system.energy(this.x), crosses: border.crosses(this.x) };
  }

  /** The map as it is now, in the shell's numbers. */
  map(): Float64Array {
    return this.system.read(this.x);
  }

  /** Moves points one by one to the least energy about them, all of them and then those of stretched triangles. */
  smooth(sweeps: number, more: number, above: number): void {
    this.system.smooth(this.x, sweeps, 0, this.border);
    if (more) this.system.smooth(this.x, more, above, this.border);
  }

  /** Energy and gradient where the map is. */
  private lookHere(): void {
    this.energy = this.evaluate(this.x, this.gradient);
    this.stretch = this.lastStretch;
  }

  /** The energy of a map with its gradient; what the stretch alone has of it is left in `lastStretch`. */
  private evaluate(x: number, gradient: number): number {
    const apart = this.border?.energy(x) ?? 0;
    this.lastStretch = Infinity;
    if (apart === Infinity) return Infinity;
    this.lastStretch = this.system.gradient(x, gradient, this.emphasis);
    if (!Number.isFinite(this.lastStretch)) return Infinity;
    if (apart) this.border!.addGradient(gradient);
    return this.lastStretch + apart + (this.guide ? this.pullTo(x, gradient) : 0);
  }

  /** What pulled points cost, 0 before anything was factored; adds its gradient, and takes that of what stays away. */
  private pullTo(x: number, gradient: number): number {
    const { kernels, points } = this.system;
    const { still, pulled, places } = this.guide!;
    const [map, out] = [kernels.f64(x, 2 * points), kernels.f64(gradient, 2 * points)];
    let sum = 0;
    for (let i = 0; i < pulled.length; i++)
      for (let d = 0; d < 2; d++) {
        const away = map[2 * pulled[i]! + d]! - places[2 * i + d]!;
        sum += this.pull * away * away;
        out[2 * pulled[i]! + d]! += 2 * this.pull * away;
      }
    keepStill(out, still);
    return sum;
  }

  minimise(options: MinimiseOptions): Minimised {
    const { passes, promised = 0, enough = 2e-6, until = 0, above = Infinity, onPass, isOver } = options;
    const bounds = { promised, enough, until, above };
    let pass = 0;
    let healed = false;
    const ends = (): boolean => {
      onPass?.(pass);
      return isOver?.(pass) ?? false;
    };
    this.lookHere();
    try {
      while (Number.isFinite(this.energy) && pass < passes && this.stretch > until && !ends()) {
        pass++;
        if (!this.factorMetric()) break;
        const before = this.energy;
        const how = this.runPass(bounds, healed, ends);
        healed = how === "healed";
        if (how === "done") break;
        if (!healed && before - this.energy < enough * this.energy) break;
      }
    } catch (error) {
      // Ended in the middle of a step: the map is where the last one led.
      if (!(error instanceof Interrupted)) throw error;
    }
    return { energy: this.system.energy(this.x), passes: pass };
  }

  /** Steps on one factorisation, until they fade. */
  private runPass(
    { promised, enough, until, above }: Bounds,
    healed: boolean,
    ends: () => boolean,
  ): "done" | "faded" | "healed" {
    const pairs: Pair[] = [];
    let firstGain = 0;
    for (let n = 0; n < STEPS_PER_PASS; n++) {
      if (n && ends()) return "done";
      const slope = this.direction(pairs);
      if (!(slope < 0)) return n ? "faded" : "done";
      if (!n && -slope / 2 < promised * this.energy) return "done";
      if (!n && this.stretch + (SURELY * slope) / 2 > above) return "done";
      const limit = Math.min(1, 0.9 * this.system.stepBeforeFlip(this.x, this.step));
      if (!n && limit < BLOCKED && !healed && !this.guide) {
        this.system.smooth(this.x, HEALING, SICK * this.stretch, this.border);
        this.lookHere();
        return "healed";
      }
      const gain = this.searchLine(limit, slope);
      if (!gain) return n ? "faded" : "done";
      if (!n) firstGain = gain;
      this.remember(pairs, n);
      this.take();
      if (this.stretch <= until) return "done";
      if (gain < FADED * firstGain || gain < enough * this.energy) return "faded";
    }
    return "faded";
  }

  /** The two-loop recursion: writes the next step. @returns the slope of the energy along it */
  private direction(pairs: readonly Pair[]): number {
    const { code } = this.system.kernels;
    const count = 2 * this.system.points;
    const { step, gradient } = this;
    code.addScaled(count, step, gradient, gradient, -2);
    const alpha: number[] = [];
    for (let n = pairs.length - 1; n >= 0; n--) {
      const { s, y, rho } = pairs[n]!;
      alpha[n] = rho * code.dot(count, s, step);
      code.addScaled(count, step, step, y, -alpha[n]!);
    }
    this.system.factorisation.solve(step);
    if (this.guide) keepStill(this.system.kernels.f64(step, count), this.guide.still);
    for (let n = 0; n < pairs.length; n++) {
      const { s, y, rho } = pairs[n]!;
      code.addScaled(count, step, step, s, alpha[n]! - rho * code.dot(count, y, step));
    }
    return code.dot(count, gradient, step);
  }

  /** Writes the map and the gradient a step farther on. @returns what is gained, 0 where nothing is */
  private searchLine(limit: number, slope: number): number {
    const { system } = this;
    const { code } = system.kernels;
    for (let tries = 0, t = limit; tries < 30; tries++) {
      code.addScaled(2 * system.points, this.next, this.x, this.step, t);
      const energy = this.evaluate(this.next, this.nextGradient);
      if (energy <= this.energy + 1e-4 * t * slope) {
        this.nextEnergy = energy;
        this.nextStretch = this.lastStretch;
        return this.energy - energy;
      }
      // Where a parabola through what is known has its least.
      const best = Number.isFinite(energy) ? (-slope * t * t) / (2 * (energy - this.energy - slope * t)) : 0;
      t = Math.max(0.1 * t, Math.min(0.5 * t, best || 0.5 * t));
    }
    return 0;
  }

  private remember(pairs: Pair[], n: number): void {
    const { system } = this;
    const { code } = system.kernels;
    const count = 2 * system.points;
    const place = n % this.mostMemories;
    this.memories[place] ??= { s: system.takePairs(), y: system.takePairs() };
    const { s, y } = this.memories[place]!;
    code.addScaled(count, s, this.next, this.x, -1);
    code.addScaled(count, y, this.nextGradient, this.gradient, -1);
    const curvature = code.dot(count, s, y);
    if (pairs.length === this.mostMemories) pairs.shift();
    if (curvature > 0) pairs.push({ s, y, rho: 1 / curvature });
  }

  /** Goes to where the line search ended. */
  private take(): void {
    [this.x, this.next] = [this.next, this.x];
    [this.gradient, this.nextGradient] = [this.nextGradient, this.gradient];
    this.energy = this.nextEnergy;
    this.stretch = this.nextStretch;
  }

  /** Factors the metric with a small weight on the diagonal, for the motions that cost nothing; more where it fails. */
  private factorMetric(): boolean {
    const { system } = this;
    const { pattern, factorisation, kernels } = system;
    for (let weight = 1e-9; weight < 1e-2; weight *= 100) {
      system.metric(this.x, this.border, this.emphasis);
      const values = kernels.f64(factorisation.values, factorisation.size);
      let mean = 0;
      for (let v = 0; v < pattern.n; v++) mean += values[pattern.start[v]!]!;
      mean /= pattern.n;
      for (let v = 0; v < pattern.n; v++) values[pattern.start[v]!]! += weight * mean;
      if (this.guide) this.guideMetric(values, mean);
      if (factorisation.factor()) return true;
    }
    return false;
  }

  /** Holds points that stay whole, and adds what pulled ones weigh to a metric. */
  private guideMetric(values: Float64Array, mean: number): void {
    const { n, start, index } = this.system.pattern;
    const { still, pulled } = this.guide!;
    const all = STILL_U | STILL_V;
    for (let p = 0; p < n; p++) {
      const held = still[p] === all;
      for (let e = start[p]!; e < start[p + 1]!; e++)
        if (held || still[index[e]!] === all) values[e] = index[e] === p ? 1 : 0;
    }
    if (!this.pull && pulled.length) {
      this.pull = PULL * mean;
      this.lookHere();
    }
    for (const p of pulled) values[start[p]!]! += 2 * this.pull;
  }

  /**
   * Lets the map follow pulled points for a while, with steps on one factorisation as long as they lead on.
   *
   * @param places of the pulled points @param milliseconds after which no step is begun any more
   * @returns whether there is more to be gained
   */
  follow(places: Float64Array, milliseconds: number): boolean {
    const end = performance.now() + milliseconds;
    this.guide!.places = places;
    const pairs: Pair[] = [];
    this.lookHere();
    for (let n = 0; n === 0 || performance.now() < end; n++) {
      if (this.stepsOnFactor < 0 || this.stepsOnFactor >= STEPS_PER_FACTOR) {
        if (!this.factorMetric()) return false;
        this.stepsOnFactor = 0;
        pairs.length = 0;
      }
      const slope = this.direction(pairs);
      if (!(slope < 0) || -slope < SETTLED * this.energy) return false;
      const limit = Math.min(1, 0.9 * this.system.stepBeforeFlip(this.x, this.step));
      if (!this.searchLine(limit, slope)) {
        // What was factored where the map was before may not lead on: once more from here.
        if (this.stepsOnFactor === 0) return false;
        this.stepsOnFactor = STEPS_PER_FACTOR;
        continue;
      }
      this.remember(pairs, n);
      this.take();
      this.stepsOnFactor++;
    }
    return true;
  }

  /** Puts pulled points exactly where they are drawn to, where nothing flips by that. @returns whether they are there */
  arrive(): boolean {
    const { kernels, points } = this.system;
    const { pulled, places } = this.guide!;
    const map = kernels.f64(this.x, 2 * points);
    const before = map.slice();
    for (const [i, p] of pulled.entries()) map.set(places.subarray(2 * i, 2 * i + 2), 2 * p);
    if (Number.isFinite(this.system.energy(this.x)) && !this.border?.meets(this.x)) return true;
    kernels.f64(this.x, 2 * points).set(before);
    return false;
  }

  /** Scales the map to its least energy: c^4 = sum(s^-2) / sum(s^2). */
  private atBestScale(): number {
    const { system } = this;
    const x = system.kernels.f64(this.x, 2 * system.points);
    const e1 = system.energy(this.x);
    if (!Number.isFinite(e1)) return e1;
    // With E(c) = (c^2 p + q / c^2) / 4 two evaluations give p and q.
    for (let i = 0; i < x.length; i++) x[i]! *= 2;
    const e2 = system.energy(this.x);
    const p = (4 * (4 * e2 - e1)) / 15;
    const q = 4 * e1 - p;
    const c = p > 0 && q > 0 ? (q / p) ** 0.25 / 2 : 0.5;
    for (let i = 0; i < x.length; i++) x[i]! *= c;
    return system.energy(this.x);
  }
}
