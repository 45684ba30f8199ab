import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { layoutArea, signedArea } from "./area";
import { unfoldGuided } from "./guided-unfold";
import { hasHoles, holesFilled, mapOfLayout } from "./holes";
import { relaxed } from "./relax";
import { formOf, type ShellMesh } from "./shell-mesh";
import { unfoldShell } from "./unfold-shell";

const SIDE = 9;

/** A flat sheet of squares without those that are told, and the layout it has by itself. */
function sheetWithout(isHole: (i: number, j: number) => boolean): { shell: ShellMesh; uv: Float64Array } {
  const numbers = new Map<number, number>();
  const positions: number[] = [];
  const triangles: number[] = [];
  const point = (i: number, j: number): number => {
    const key = j * (SIDE + 1) + i;
    if (!numbers.has(key)) {
      numbers.set(key, numbers.size);
      positions.push(i / SIDE, j / SIDE, 0);
    }
    return numbers.get(key)!;
  };
  for (let j = 0; j < SIDE; j++)
    for (let i = 0; i < SIDE; i++) {
      if (isHole(i, j)) continue;
      const [a, b, c, d] = [point(i, j), point(i + 1, j), point(i + 1, j + 1), point(i, j + 1)];
      triangles.push(a, b, c, a, c, d);
    }
  const shell = {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    wedges: Uint32Array.from({ length: numbers.size }, (_, v) => v),
  };
  return { shell, uv: Float64Array.from({ length: 2 * numbers.size }, (_, k) => positions[3 * (k >> 1) + (k & 1)]!) };
}

const within = (x: number, from: number, to: number): boolean => x >= from && x < to;
const square = sheetWithout((i, j) => within(i, 3, 6) && within(j, 3, 6));
/** A hole that no place within sees all of. */
const bent = sheetWithout((i, j) => within(i, 2, 7) && within(j, 2, 7) && !(within(i, 3, 6) && j > 2));
const flips = ({ triangles }: ShellMesh, uv: Float64Array): number => {
  let count = 0;
  for (let t = 0; t < triangles.length; t += 3) if (!(signedArea(uv, triangles, t) > 0)) count++;
  return count;
};

describe("holes that are filled", () => {
  it("make a disk that covers each hole once", () => {
    for (const { shell, uv } of [square, bent]) {
      expect(hasHoles(formOf(shell))).toBe(true);
      for (const turn of [5, -5]) {
        const laid = uv.map((x, i) => (i % 2 ? 5 * x : turn * x));
        const disk = mapOfLayout(shell, laid);
        expect(formOf(disk.shell).isDisk).toBe(true);
        expect(flips(disk.shell, disk.map)).toBe(0);
        expect(layoutArea(disk.shell.triangles, disk.map)).toBeCloseTo(1, 12);
        laid.forEach((x, i) => {
          expect(disk.map[i]! / disk.scale[i % 2]!).toBeCloseTo(x, 12);
        });
      }
    }
  });

  it("count next to nothing, and leave the weights of the shell as they are", () => {
    const own = Float64Array.from({ length: square.shell.triangles.length / 3 }, (_, t) => 1 + (t % 3));
    const { weights } = holesFilled({ ...square.shell, weights: own }, formOf(square.shell)).shell;
    expect(weights!.slice(0, own.length)).toEqual(own);
    expect(Math.max(...weights!.slice(own.length))).toBeLessThan(0.01);
  });

  it("leave what is whole as it is", () => {
    const whole = sheetWithout(() => false);
    expect(mapOfLayout(whole.shell, whole.uv).shell).toBe(whole.shell);
  });
});

describe("shells with holes", () => {
  it("lie flat without stretch where they are flat, whatever is cut out of them", () => {
    const result = unfoldShell(square.shell, { passes: 30 });
    if (!result.ok) throw new Error(result.reason);
    expect(result.energy).toBeLessThan(1 + 1e-4);
  });

  it("are relaxed back to what they were, at any size and mirrored, and keep their holes", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 999 }), fc.boolean(), fc.boolean(), (seed, mirrored, isBent) => {
        const { shell, uv } = isBent ? bent : square;
        const turn = mirrored ? -3 : 3;
        const shaken = uv.map((x, i) => (i % 2 ? 3 : turn) * (x + 0.012 * Math.sin(31 * i + seed)));
        const moves = new Uint8Array(uv.length / 2).fill(1);
        const after = relaxed(shell, shaken, { moves, strength: 1, passes: 60 });
        expect(after.flipped).toBe(0);
        const straight = after.uv.map((x, i) => x * (i % 2 ? 1 : Math.sign(turn)));
        expect(flips(shell, straight)).toBe(0);
        const disk = mapOfLayout(shell, after.uv);
        expect(flips(disk.shell, disk.map)).toBe(0);
      }),
      { numRuns: 20 },
    );
  });

  it("are unfolded about pins, which stay to the last bit", () => {
    for (const { shell, uv } of [square, bent]) {
      const held = new Uint8Array(uv.length / 2);
      held[0] = held[held.length - 1] = held[20] = 1;
      const drawn = uv.map((x, i) => x + 0.01 * Math.sin(17 * i));
      const result = unfoldGuided(shell, drawn, { held }, { passes: 20 });
      if (!result.ok) throw new Error(result.reason);
      expect(result.uv).toHaveLength(uv.length);
      expect(flips(shell, result.uv)).toBe(0);
      held.forEach((on, v) => {
        if (on) expect(result.uv.slice(2 * v, 2 * v + 2)).toEqual(drawn.slice(2 * v, 2 * v + 2));
      });
      expect(result.energy).toBeLessThan(1.05);
    }
  });
});

describe("weights of triangles", () => {
  it("take stretch away from those that weigh more", () => {
    // A dome: it cannot lie flat without stretch.
    const { shell } = sheetWithout(() => false);
    const lift = (i: number) =>
      0.5 * Math.sin(Math.PI * shell.positions[i - 2]!) * Math.sin(Math.PI * shell.positions[i - 1]!);
    const positions = shell.positions.map((x, i) => (i % 3 === 2 ? lift(i) : x));
    const dome = { ...shell, positions };
    const count = shell.triangles.length / 3;
    const isLeft = (t: number) => positions[3 * shell.triangles[3 * t]!]! < 0.45;
    const weights = Float64Array.from({ length: count }, (_, t) => (isLeft(t) ? 20 : 1));
    const spread = (form: ShellMesh): number => {
      const result = unfoldShell(form, { passes: 60 });
      if (!result.ok) throw new Error(result.reason);
      expect(flips(form, result.uv)).toBe(0);
      const ratios = Array.from({ length: count }, (_, t) => t)
        .filter(isLeft)
        .map((t) => Math.log(signedArea(result.uv, form.triangles, 3 * t) / areaOf(dome, t)));
      return Math.max(...ratios) - Math.min(...ratios);
    };
    expect(spread({ ...dome, weights })).toBeLessThan(0.75 * spread(dome));
    expect(spread({ ...dome, weights: new Float64Array(count).fill(7) })).toBeCloseTo(spread(dome), 6);
  });
});

function areaOf({ positions: p, triangles }: ShellMesh, t: number): number {
  const [a, b, c] = [0, 1, 2].map((k) => p.subarray(3 * triangles[3 * t + k]!, 3 * triangles[3 * t + k]! + 3));
  const [u, v] = [b!, c!].map((q) => q.map((x, d) => x - a![d]!));
  const x = u![1]! * v![2]! - u![2]! * v![1]!;
  const y = u![2]! * v![0]! - u![0]! * v![2]!;
  const z = u![0]! * v![1]! - u![1]! * v![0]!;
  return Math.hypot(x, y, z) / 2;
}
