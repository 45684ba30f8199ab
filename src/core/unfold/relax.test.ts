import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { signedArea } from "./area";
import { type RelaxOptions, relaxed } from "./relax";
import type { ShellMesh } from "./shell-mesh";

const N = 8;
const at = (i: number, j: number): number => j * (N + 1) + i;

/** A flat sheet of N x N squares, and the layout that it has by itself. */
function flatSheet(): { shell: ShellMesh; uv: Float64Array } {
  const points = (N + 1) * (N + 1);
  const positions = new Float64Array(3 * points);
  const uv = new Float64Array(2 * points);
  const triangles: number[] = [];
  for (let j = 0; j <= N; j++)
    for (let i = 0; i <= N; i++) {
      positions.set([i, j, 0], 3 * at(i, j));
      uv.set([i, j], 2 * at(i, j));
      if (i < N && j < N)
        triangles.push(at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i, j + 1));
    }
  const wedges = Uint32Array.from({ length: points }, (_, v) => v);
  return { shell: { positions, triangles: Uint32Array.from(triangles), wedges }, uv };
}

const { shell, uv } = flatSheet();
const isInner = (v: number): boolean => {
  const [i, j] = [v % (N + 1), Math.floor(v / (N + 1))];
  return i > 0 && i < N && j > 0 && j < N;
};
const inner = Uint8Array.from({ length: uv.length / 2 }, (_, v) => (isInner(v) ? 1 : 0));
const all = new Uint8Array(uv.length / 2).fill(1);
const options = (changed: Partial<RelaxOptions> = {}): RelaxOptions => ({
  moves: inner,
  strength: 1,
  passes: 100,
  ...changed,
});
const flips = (map: Float64Array): number => {
  let count = 0;
  for (let t = 0; t < shell.triangles.length; t += 3) if (!(signedArea(map, shell.triangles, t) > 0)) count++;
  return count;
};
const apart = (a: Float64Array, b: Float64Array): number =>
  a.reduce((most, x, i) => Math.max(most, Math.abs(x - b[i]!)), 0);
/** The sheet with its inner points shaken. */
const shaken = (by: number, seed: number): Float64Array =>
  uv.map((x, i) => (inner[i >> 1] ? x + by * Math.sin(37 * i + 11 * seed) : x));

describe("relaxing", () => {
  it("leaves what is not stretched where it is", () => {
    const after = relaxed(shell, uv, options({ moves: all }));
    expect(after.flipped).toBe(0);
    expect(apart(after.uv, uv)).toBeLessThan(1e-9);
  });

  it("brings a shaken sheet back to what it was, at any size and mirrored too", () => {
    for (const [du, dv] of [
      [1, 1],
      [-0.01, 0.01],
      [50, 50],
    ] as const) {
      const size = Math.abs(du);
      const scaled = (map: Float64Array) => map.map((x, i) => x * (i % 2 ? dv : du));
      const after = relaxed(shell, scaled(shaken(0.2, 1)), options());
      expect(after.flipped).toBe(0);
      expect(apart(after.uv, scaled(uv))).toBeLessThan(1e-3 * size);
    }
  });

  it("moves nothing but what may move, and flips nothing, whatever its strength", () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: all.length, maxLength: all.length, max: 1 }),
        fc.double({ min: 0.01, max: 1, noNaN: true }),
        fc.integer({ min: 1, max: 50 }),
        (moves, strength, seed) => {
          const from = shaken(0.15, seed);
          fc.pre(flips(from) === 0);
          const after = relaxed(shell, from, { moves, strength, passes: 5 });
          expect([after.flipped, flips(after.uv)]).toEqual([0, 0]);
          for (let v = 0; v < moves.length; v++)
            if (!moves[v]) expect([after.uv[2 * v], after.uv[2 * v + 1]]).toEqual([from[2 * v], from[2 * v + 1]]);
        },
      ),
      { numRuns: 30 },
    );
  });

  it("turns flipped triangles over where their points may move", () => {
    const tangled = uv.slice();
    tangled.set([6.5, 6.5], 2 * at(3, 3));
    expect(flips(tangled)).toBeGreaterThan(0);
    const after = relaxed(shell, tangled, options());
    expect([after.flipped, flips(after.uv)]).toEqual([0, 0]);
    expect(apart(after.uv, uv)).toBeLessThan(1e-3);
  });

  it("leaves a layout whole as it is where triangles cannot be turned over, and says how many", () => {
    const tangled = uv.slice();
    tangled.set([6.5, 6.5], 2 * at(3, 3));
    const others = inner.map((may, v) => (v === at(3, 3) ? 0 : may));
    // The point that is out of place may not move: its neighbours on the border of what may cannot follow it that far.
    const few = others.map((_, v) => (v === at(2, 2) ? 1 : 0));
    const after = relaxed(shell, tangled, options({ moves: few }));
    expect(after.flipped).toBeGreaterThan(0);
    expect(after.uv).toBe(tangled);
  });

  it("ends with what was reached when it is told to", () => {
    const from = shaken(0.2, 3);
    let asked = 0;
    const after = relaxed(shell, from, options({ isOver: () => ++asked > 2 }));
    const whole = relaxed(shell, from, options());
    expect(asked).toBe(3);
    expect(apart(after.uv, from)).toBeGreaterThan(0);
    expect(apart(after.uv, uv)).toBeGreaterThan(apart(whole.uv, uv));
  });
});
