import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { signedArea } from "./area";
import type { ShellMesh } from "./shell-mesh";
import { madeSymmetric, mirrorOf } from "./symmetry";
import { unfoldShell } from "./unfold-shell";

const N = 10;
const at = (i: number, j: number): number => j * (N + 1) + i;
const mirrored = (p: number): number => at(N - (p % (N + 1)), Math.floor(p / (N + 1)));

/** A sheet of N x N squares laid into space. */
function sheet(place: (x: number, y: number) => readonly [number, number, number]): ShellMesh {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let j = 0; j <= N; j++)
    for (let i = 0; i <= N; i++) {
      positions.push(...place(i / N - 0.5, j / N));
      if (i < N && j < N)
        triangles.push(at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i, j + 1));
    }
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    wedges: Uint32Array.from({ length: (N + 1) ** 2 }, (_, p) => p),
  };
}

/** Wider at its top, and bulging: the same on both sides of x = 0 and of nothing else. */
const shield = (x: number, y: number) => [x * (1 + y), y + 0.1 * x * x, Math.cos(2 * x) * (0.4 + y * y)] as const;
/** The same, turned about in space. */
const turned = (angle: number) => (x: number, y: number) => {
  const [a, b, c] = shield(x, y);
  const [s, t] = [Math.cos(angle), Math.sin(angle)];
  return [s * a - t * b, s * (t * a + s * b) - t * c, t * (t * a + s * b) + s * c] as const;
};

/** How far a map is from being mirrored across the line between the images of points. */
function unevenness(uv: Float64Array): number {
  const place = (p: number) => [uv[2 * p]!, uv[2 * p + 1]!] as const;
  const apart = (p: number, q: number) => Math.hypot(place(p)[0] - place(q)[0], place(p)[1] - place(q)[1]);
  let most = 0;
  for (let p = 0; p < (N + 1) ** 2; p += 3)
    for (let q = 0; q < (N + 1) ** 2; q += 7)
      most = Math.max(most, Math.abs(apart(p, q) - apart(mirrored(p), mirrored(q))));
  return most;
}

describe("the mirror images of a shell's points", () => {
  it("are found however it stands in space", () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 6.3, noNaN: true }), (angle) => {
        const images = mirrorOf(sheet(turned(angle)));
        expect(images && [...images]).toEqual(Array.from({ length: (N + 1) ** 2 }, (_, p) => mirrored(p)));
      }),
      { numRuns: 20 },
    );
  });

  it("are told apart at a seam, where two points lie in one place", () => {
    // A tapering tube that is cut open along one line: its two sides meet in space.
    const images = mirrorOf(
      sheet((x, y) => [(1 + y) * Math.cos(2 * Math.PI * x), (1 + y) * Math.sin(2 * Math.PI * x), y]),
    );
    expect(images && images[at(0, 4)]).toBe(at(N, 4));
    expect(images && images[at(2, 4)]).toBe(at(N - 2, 4));
  });

  it("are none for a shell that does not mirror, and for a point", () => {
    expect(
      mirrorOf(sheet((x, y) => [x + 0.3 * y * y + x * x * y, y * (1 + 0.2 * x), x * y * y + Math.sin(3 * x)])),
    ).toBeNull();
    expect(mirrorOf(sheet(() => [0, 0, 0]))).toBeNull();
  });
});

describe("a map made symmetric", () => {
  const images = Uint32Array.from({ length: (N + 1) ** 2 }, (_, p) => mirrored(p));
  const { positions, triangles } = sheet((x, y) => [x, y, 0]);
  const flat = Float64Array.from({ length: 2 * images.length }, (_, k) => positions[3 * (k >> 1) + (k & 1)]!);

  it("is the same on both sides to rounding, without a flip, however it was turned", () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 6.3, noNaN: true }), fc.integer({ min: 0, max: 99 }), (angle, seed) => {
        const [c, s] = [Math.cos(angle), Math.sin(angle)];
        const shaken = flat.map((x, i) => x + 0.02 * Math.sin(31 * i + seed));
        const uv = shaken.map((x, i) => (i % 2 ? s * shaken[i - 1]! + c * x : c * x - s * shaken[i + 1]!));
        const even = madeSymmetric(triangles, uv, images)!;
        expect(unevenness(uv)).toBeGreaterThan(1e-3);
        expect(unevenness(even)).toBeLessThan(1e-12);
        for (let t = 0; t < triangles.length; t += 3) expect(signedArea(even, triangles, t)).toBeGreaterThan(0);
      }),
      { numRuns: 20 },
    );
  });

  it("is nothing where triangles would flip", () => {
    const torn = flat.map((x, i) => (i === 2 * at(3, 3) ? x + 0.5 : x));
    expect(madeSymmetric(triangles, torn, images)).toBeNull();
  });
});

describe("unfolding what mirrors", () => {
  it("gives both sides alike, with as little stretch", () => {
    const shell = sheet(turned(1));
    const [plain, even] = [false, true].map((symmetric) => unfoldShell(shell, { passes: 30, symmetric }));
    if (!plain!.ok || !even!.ok) throw new Error("It does not lie flat.");
    expect(unevenness(plain!.uv)).toBeGreaterThan(1e-6);
    expect(unevenness(even!.uv)).toBeLessThan(1e-10);
    expect(even!.energy).toBeLessThan(1.001 * plain!.energy);
  });
});
