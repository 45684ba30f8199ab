import { PLAIN, WITH_SIMD } from "./binary";

/** What the compiled code can do; addresses are bytes of its memory. What each does stands in assembly/. */
interface Code {
  readonly memory: WebAssembly.Memory;
  firstFree(): number;
  factor(
    plan: number,
    nodes: number,
    entries: number,
    places: number,
    children: number,
    values: number,
    factor: number,
    stack: number,
  ): number;
  solvePairs(plan: number, nodes: number, nodeStart: number, rows: number, factor: number, x: number): void;
  dissect(
    points: number,
    start: number,
    index: number,
    coordinates: number,
    out: number,
    begin: number,
    parent: number,
    scratch: number,
  ): number;
  beginCoarsening(
    points: number,
    corners: number,
    triangles: number,
    coordinates: number,
    deleted: number,
    out: number,
    starts: number,
    scratch: number,
    area: number,
  ): void;
  coarsenTo(left: number): number;
  putBack(from: number, to: number, places: number, x: number, scale: number): number;
  restShapes(count: number, triangles: number, places: number, rests: number): number;
  laplacian(count: number, rests: number, slots: number, values: number, size: number): void;
  takeAngles(count: number, triangles: number, rests: number, out: number): void;
  smooth(
    points: number,
    sweeps: number,
    starts: number,
    corners: number,
    triangles: number,
    rests: number,
    x: number,
    marks: number,
    radii: number,
    from: number,
  ): void;
  stretchEnergy(count: number, triangles: number, rests: number, x: number): number;
  stretchGradient(
    points: number,
    count: number,
    triangles: number,
    rests: number,
    x: number,
    out: number,
    angles: number,
    areas: number,
  ): number;
  stretchMetric(
    count: number,
    triangles: number,
    rests: number,
    x: number,
    slots: number,
    values: number,
    size: number,
    angles: number,
    areas: number,
  ): void;
  stepBeforeFlip(count: number, triangles: number, x: number, step: number): number;
  markStretched(
    points: number,
    count: number,
    triangles: number,
    rests: number,
    x: number,
    limit: number,
    marks: number,
  ): number;
  setBorder(count: number, loop: number, ways: number, shares: number, range: number, scratch: number): void;
  borderCrosses(x: number, slack: number): number;
  barrierEnergy(x: number): number;
  addBarrierGradient(out: number): void;
  addBarrierMetric(x: number, values: number, starts: number, index: number): void;
  borderRadii(x: number, reach: number, out: number): void;
  closePoints(x: number, times: number, out: number, most: number): number;
  growBorder(
    count: number,
    loop: number,
    x: number,
    cells: number,
    following: number,
    scratch: number,
    most: number,
  ): void;
  forgetBorder(): void;
  fitRuns(
    grid: number,
    runs: number,
    count: number,
    h: number,
    firstX: number,
    lastX: number,
    firstY: number,
    lastY: number,
  ): number;
  fitNear(
    grid: number,
    runs: number,
    count: number,
    h: number,
    lastX: number,
    lastY: number,
    x: number,
    y: number,
  ): number;
  fitContact(
    grid: number,
    runs: number,
    count: number,
    h: number,
    firstX: number,
    lastX: number,
    firstY: number,
    lastY: number,
    edge: number,
    rim: number,
    rimCount: number,
    gain: number,
    limit: number,
  ): number;
  contactScore(): number;
  copyAll(to: number, from: number): void;
  limitTo(grid: number, columns: number, longest: number): void;
  copyRows(to: number, from: number, first: number, last: number): void;
  keepLevels(grid: number, levels: number): void;
  setRuns(grid: number, runs: number, count: number, x: number, y: number, top: number, taken: number): void;
  shellDistances(
    out: number,
    inside: number,
    nx: number,
    ny: number,
    segments: number,
    segmentCount: number,
    triangles: number,
    triangleCount: number,
    band: number,
  ): void;
  settleBegin(count: number, records: number, poses: number, turns: number, marks: number, seed: number): void;
  settleRoom(width: number, height: number): number;
  settlePage(width: number, height: number, apart: number, room: number): number;
  settleWork(): number;
  settleRelax(order: number, mix: number, apart: number, allowed: number, mayTurn: number): number;
  settleSum(): number;
  settleFree(free: number): void;
  settleWeights(pairs: number, scratch: number): void;
  settleSeparate(room: number): void;
  settleHits(hit: number, marks: number, out: number): number;
  settleWeigh(): void;
  settleMove(shell: number, texel: number): void;
  gridBytes(rows: number, words: number, levels: number, tall: number): number;
  beginGrid(grid: number, rows: number, words: number, levels: number, tall: number): void;
  freeAll(grid: number): void;
  dot(count: number, a: number, b: number): number;
  addScaled(count: number, out: number, a: number, b: number, times: number): void;
}

const PAGE = 65_536;
/** The most that memory with addresses of 32 bits holds. */
const MOST_PAGES = 65_535;
/** Points over which one step takes some hundredths of a second. */
const MANY = 50_000;
/** Bytes from which on a memory is let go when it is given back: it could never shrink. */
const KEPT = 256 * 2 ** 20;

/** A module of one function that returns a vector: it is valid where SIMD is known. */
const PROBE = Uint8Array.of(
  0,
  97,
  115,
  109,
  1,
  0,
  0,
  0,
  1,
  5,
  1,
  96,
  0,
  1,
  123,
  3,
  2,
  1,
  0,
  10,
  10,
  1,
  8,
  0,
  65,
  0,
  253,
  15,
  253,
  98,
  11,
);

/** Whether compiled code may use SIMD here. */
export const hasSimd = (): boolean => WebAssembly.validate(PROBE);

const modules = new Map<string, WebAssembly.Module>();

function moduleOf(text: string): WebAssembly.Module {
  let made = modules.get(text);
  if (!made) {
    made = new WebAssembly.Module(Uint8Array.from(atob(text), (c) => c.charCodeAt(0)));
    modules.set(text, made);
  }
  return made;
}

/** Work that was ended in the middle: what it worked on is as it was left. */
export class Interrupted extends Error {
  override readonly name = "Interrupted";
}

/**
 * Compiled code with a memory of its own, in which arrays are taken one behind the other and given back together. What was
 * taken before something else is taken keeps its address, not its view: growing memory detaches views.
 */
export class Kernels {
  readonly code: Code;
  private top: number;
  /** Asked from time to time, also in the middle of long work: true to end it there. */
  isOver: (() => boolean) | null = null;

  /** @param simd whether to use it; without it the same is computed, slower */
  constructor(simd = hasSimd()) {
    this.code = new WebAssembly.Instance(moduleOf(simd ? WITH_SIMD : PLAIN), {
      env: { abort: () => {} },
      // The file that declares it.
      pause: { pause: () => this.pause() },
    }).exports as unknown as Code;
    this.top = (this.code.firstFree() + 15) & ~15;
  }

  /** Between long steps: whoever waits may end the work. @throws Interrupted where they do */
  pause(): void {
    if (this.isOver?.()) throw new Interrupted();
  }

  /** The same behind a step over some points, where they are so many that it took long. */
  pauseAfter(points: number): void {
    if (points > MANY) this.pause();
  }

  /** Takes room. @returns its address, a multiple of 16 @throws RangeError where memory has no room for it */
  take(bytes: number): number {
    const at = this.top;
    const end = at + Math.ceil(bytes / 16) * 16;
    const { memory } = this.code;
    const missing = Math.ceil((end - memory.buffer.byteLength) / PAGE);
    if (missing > 0) {
      const pages = memory.buffer.byteLength / PAGE;
      if (pages + missing > MOST_PAGES) throw new RangeError("This shell is too large for the memory of its solver.");
      // Half as much again, where there is room: growing is slow.
      memory.grow(Math.min(MOST_PAGES - pages, Math.max(missing, pages >> 1)));
    }
    this.top = end;
    return at;
  }

  /** Takes room for numbers, and copies them there. */
  put(list: Float64Array | Float32Array | Uint32Array | Int32Array | Uint8Array): number {
    const at = this.take(list.byteLength);
    new Uint8Array(this.code.memory.buffer).set(new Uint8Array(list.buffer, list.byteOffset, list.byteLength), at);
    return at;
  }

  /** Does something, and gives back all that was taken meanwhile. */
  during<T>(act: () => T): T {
    const before = this.top;
    try {
      return act();
    } finally {
      this.top = before;
    }
  }

  f64(at: number, length: number): Float64Array {
    return new Float64Array(this.code.memory.buffer, at, length);
  }
  f32(at: number, length: number): Float32Array {
    return new Float32Array(this.code.memory.buffer, at, length);
  }
  u32(at: number, length: number): Uint32Array {
    return new Uint32Array(this.code.memory.buffer, at, length);
  }
  i32(at: number, length: number): Int32Array {
    return new Int32Array(this.code.memory.buffer, at, length);
  }

  get bytes(): number {
    return this.code.memory.buffer.byteLength;
  }
}

/** Kernels that nobody uses now: making one takes longer than a small shell. */
const idle: Kernels[] = [];

/**
 * Does something with kernels of its own for as long as it takes.
 *
 * @param isOver asked from time to time: true to end it @throws Interrupted where it is ended before there is a result
 */
export function withKernels<T>(act: (kernels: Kernels) => T, isOver: (() => boolean) | null = null): T {
  const kernels = idle.pop() ?? new Kernels();
  kernels.isOver = isOver;
  try {
    return kernels.during(() => act(kernels));
  } finally {
    kernels.isOver = null;
    if (kernels.bytes <= KEPT) idle.push(kernels);
  }
}
