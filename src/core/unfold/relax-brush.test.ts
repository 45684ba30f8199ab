import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { BRUSH_WAYS } from "../layout/stroke";
import { signedArea } from "./area";
import { RelaxBrush } from "./relax-brush";
import { formOf, type ShellMesh } from "./shell-mesh";
import { bordersSmoothed } from "./smooth-borders";

const N = 16;
const at = (i: number, j: number): number => j * (N + 1) + i;
const POINTS = (N + 1) ** 2;

/** A flat sheet of N x N squares, a unit wide, and the layout that it has by itself. */
const positions = Float64Array.from({ length: 3 * POINTS }, (_, k) => {
  const [p, d] = [Math.floor(k / 3), k % 3];
  return d === 2 ? 0 : (d ? Math.floor(p / (N + 1)) : p % (N + 1)) / N;
});
const triangles: number[] = [];
for (let j = 0; j < N; j++)
  for (let i = 0; i < N; i++)
    triangles.push(at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i, j + 1));
const shell: ShellMesh = {
  positions,
  triangles: Uint32Array.from(triangles),
  wedges: Uint32Array.from({ length: POINTS }, (_, p) => p),
};
const uv = Float64Array.from({ length: 2 * POINTS }, (_, k) => positions[3 * (k >> 1) + (k & 1)]!);
const all = new Uint8Array(POINTS).fill(1);
const border = formOf(shell).loops[0]!;
const isBorder = new Set(border);

const flips = (map: Float64Array): number => {
  let count = 0;
  for (let t = 0; t < triangles.length; t += 3) if (!(signedArea(map, shell.triangles, t) > 0)) count++;
  return count;
};
const shaken = (by: number, seed = 0): Float64Array =>
  uv.map((x, i) => (isBorder.has(i >> 1) ? x : x + by * Math.sin(37 * i + 11 * seed)));
const away = (map: Float64Array, from: Float64Array, p: number): number =>
  Math.hypot(map[2 * p]! - from[2 * p]!, map[2 * p + 1]! - from[2 * p + 1]!);

describe("a brush that relaxes", () => {
  const dab = { u: 0.5, v: 0.5, radius: 0.3 };

  it("moves what lies under it, and nothing else to the last bit", () => {
    for (const way of BRUSH_WAYS) {
      const from = shaken(0.02);
      const brush = new RelaxBrush(shell, from, all);
      expect(brush.dab(dab, 0.8, way)).toBe(true);
      const after = brush.uv(from);
      for (let p = 0; p < POINTS; p++) {
        const isUnder = Math.hypot(from[2 * p]! - 0.5, from[2 * p + 1]! - 0.5) < 0.3;
        if (!isUnder) expect(away(after, from, p)).toBeLessThan(1e-12);
      }
      expect(away(after, from, at(8, 8))).toBeGreaterThan(1e-3);
      expect(brush.dab({ u: 3, v: 3, radius: 0.1 }, 1, way)).toBe(false);
    }
  });

  it("brings what is shaken back to where nothing is stretched, the more the oftener", () => {
    const from = shaken(0.02);
    const brush = new RelaxBrush(shell, from, all);
    const worst = () => Math.max(...[...Array(POINTS).keys()].map((p) => away(brush.uv(from), uv, p)));
    const before = worst();
    let last = before;
    for (let round = 0; round < 3; round++) {
      for (let k = 0; k < 20; k++) brush.dab({ u: 0.5, v: 0.5, radius: 1 }, 1, "even");
      expect(worst()).toBeLessThan(last);
      last = worst();
    }
    expect(last).toBeLessThan(0.2 * before);
  });

  it("leaves pinned points where they are to the last bit", () => {
    const from = shaken(0.02);
    const moves = all.map((_, p) => (p % 3 ? 1 : 0));
    const brush = new RelaxBrush(shell, from, moves);
    brush.dab(dab, 1, "even");
    brush.dab(dab, 1, "smooth");
    const after = brush.uv(from);
    for (let p = 0; p < POINTS; p += 3)
      expect(after.subarray(2 * p, 2 * p + 2)).toEqual(from.subarray(2 * p, 2 * p + 2));
  });

  it("never flips a triangle wherever it is drawn, at any size and mirrored", () => {
    const Dab = fc.record({
      u: fc.double({ min: 0, max: 1, noNaN: true }),
      v: fc.double({ min: 0, max: 1, noNaN: true }),
      radius: fc.double({ min: 0.01, max: 0.6, noNaN: true }),
    });
    const Stroke = fc.array(fc.tuple(Dab, fc.constantFrom(...BRUSH_WAYS)), { minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(Stroke, fc.integer({ min: 0, max: 99 }), fc.constantFrom(1, -2), (stroke, seed, turn) => {
        const from = shaken(0.025, seed).map((x, i) => (i % 2 ? Math.abs(turn) * x : turn * x));
        const brush = new RelaxBrush(shell, from, all);
        const size = Math.abs(turn);
        for (const [d, way] of stroke) brush.dab({ u: turn * d.u, v: size * d.v, radius: size * d.radius }, 1, way);
        expect(flips(brush.uv(from).map((x, i) => (i % 2 ? x : turn * x)))).toBe(0);
      }),
      { numRuns: 40 },
    );
  });

  it("undoes a tangle under it", () => {
    const from = uv.slice();
    from[2 * at(8, 8)]! += 0.2;
    expect(flips(from)).toBeGreaterThan(0);
    const brush = new RelaxBrush(shell, from, all);
    for (let k = 0; k < 20; k++) brush.dab(dab, 0.5, "even");
    expect(flips(brush.uv(from))).toBe(0);
  });

  it("comes to the same in two goes as in one", () => {
    const from = shaken(0.02);
    const stroke = Array.from({ length: 8 }, (_, k) => ({ u: 0.1 * k, v: 0.5, radius: 0.2 }));
    const one = new RelaxBrush(shell, from, all);
    const two = new RelaxBrush(shell, from, all);
    for (const d of stroke) one.dab(d, 0.6, "even");
    for (const d of stroke) {
      two.dab(d, 0.6, "even");
      two.uv(from);
    }
    expect(two.uv(from)).toEqual(one.uv(from));
  });
});

describe("smoothing borders", () => {
  const options = { moves: all, size: 0.1, passes: 30 };
  const tip = at(8, N);

  it("takes a spike away and leaves the corners where they are", () => {
    const from = uv.slice();
    from[2 * tip + 1]! += 0.08;
    const after = bordersSmoothed(shell, from, options)!;
    expect(after[2 * tip + 1]! - 1).toBeLessThan(0.015);
    for (const p of [at(0, 0), at(N, 0), at(0, N), at(N, N)]) expect(away(after, from, p)).toBeLessThan(1e-12);
    expect(flips(after)).toBe(0);
    // What lies about the spike follows.
    expect(away(after, from, at(8, N - 1))).toBeGreaterThan(0);
  });

  it("leaves a border that is straight where it is, and a pinned spike to the last bit", () => {
    expect(bordersSmoothed(shell, uv, options)).toBeNull();
    const from = uv.slice();
    from[2 * tip + 1]! += 0.08;
    const without = (pinned: number) => ({ ...options, moves: all.map((_, p) => (p === pinned ? 0 : 1)) });
    expect(bordersSmoothed(shell, from, without(tip))).toBeNull();
    const foot = at(7, N);
    const after = bordersSmoothed(shell, from, without(foot))!;
    expect(after[2 * tip + 1]!).toBeLessThan(from[2 * tip + 1]!);
    expect(after.subarray(2 * foot, 2 * foot + 2)).toEqual(from.subarray(2 * foot, 2 * foot + 2));
  });

  it("leaves arcs as they are: what turns for good is no kink", () => {
    const round = uv.map((_, i) => {
      const [x, y] = [2 * uv[i - (i % 2)]! - 1, 2 * uv[i - (i % 2) + 1]! - 1];
      const [a, b] = [x * Math.sqrt(1 - (y * y) / 2), y * Math.sqrt(1 - (x * x) / 2)];
      return i % 2 ? b : a;
    });
    expect(bordersSmoothed(shell, round, { ...options, size: 0.05 })).toBeNull();
  });

  it("flips nothing however ragged the border is", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 999 }), (seed) => {
        const from = uv.map((x, i) => (isBorder.has(i >> 1) ? x + 0.02 * Math.sin(91 * i + seed) : x));
        const roughness = (map: Float64Array) =>
          border.reduce((sum, p, i) => {
            const q = border[(i + 1) % border.length]!;
            return sum + Math.hypot(map[2 * p]! - map[2 * q]!, map[2 * p + 1]! - map[2 * q + 1]!);
          }, 0);
        const after = bordersSmoothed(shell, from, options)!;
        expect(flips(after)).toBe(0);
        expect(roughness(after)).toBeLessThan(roughness(from));
      }),
      { numRuns: 20 },
    );
  });
});
