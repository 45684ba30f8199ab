import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box, lathe } from "../../../demo/kit";
import { Kernels } from "../kernels/kernels";
import { emptyLayout } from "../layout/layout";
import type { Shell } from "../mesh/indices";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { signedArea } from "./area";
import { coarseToFine } from "./coarse-to-fine";
import { StretchMinimiser } from "./minimise-stretch";
import { formOf, type ShellMesh, shellMesh } from "./shell-mesh";
import { ShellShapes, ShellSystem } from "./shell-system";
import { tutteMap } from "./tutte";
import { unfoldShell } from "./unfold-shell";

function grid(n: number, lift: (x: number, y: number) => readonly [number, number, number]): ShellMesh {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let j = 0; j <= n; j++) for (let i = 0; i <= n; i++) positions.push(...lift(i / n, j / n));
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i;
      triangles.push(a, a + 1, a + n + 2, a, a + n + 2, a + n + 1);
    }
  return {
    wedges: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i),
    triangles: Uint32Array.from(triangles),
    positions: Float64Array.from(positions),
  };
}

const flips = (shell: ShellMesh, uv: Float64Array): number => {
  let count = 0;
  for (let t = 0; t < shell.triangles.length; t += 3) if (!(signedArea(uv, shell.triangles, t) > 0)) count++;
  return count;
};

const solid = (s: ReturnType<typeof box>): ShellMesh => {
  const mesh = meshFromPolygons(s.points.flat(), s.faces);
  return shellMesh(mesh, mesh.positions, emptyLayout(mesh), 0 as Shell);
};

const kernels = new Kernels();

describe("forms", () => {
  it("tells disks, tubes and closed shells apart", () => {
    expect(formOf(grid(3, (x, y) => [x, y, 0]))).toMatchObject({ isDisk: true, genus: 0, faults: 0 });
    expect(
      formOf(
        solid(
          lathe(
            [
              [1, 0],
              [1, 1],
            ],
            8,
            0,
            false,
          ),
        ),
      ),
    ).toMatchObject({ isDisk: false, genus: 0 });
    expect(formOf(solid(box([1, 1, 1]))).loops).toHaveLength(0);
    const ring = lathe(
      [
        [2, 0],
        [3, 0],
        [3, 1],
        [2, 1],
        [2, 0],
      ],
      12,
      0,
      false,
    );
    expect(formOf(solid(ring)).genus).toBe(0); // its first and last ring are apart in the mesh
  });

  it("names what cannot lie flat and guesses nothing", () => {
    expect(unfoldShell(solid(box([1, 1, 1])), { passes: 5 })).toEqual({ ok: false, reason: "is closed" });
    expect(
      unfoldShell(
        solid(
          lathe(
            [
              [1, 0],
              [1, 1],
            ],
            8,
            0,
            false,
          ),
        ),
        { passes: 5 },
      ),
    ).toMatchObject({ ok: false, reason: expect.stringContaining("two borders") });
  });
});

describe("unfolding", () => {
  it("lays what is flat already down exactly", () => {
    const shell = grid(6, (x, y) => [3 * x, 0.5 * y, 2 * x]);
    const result = unfoldShell(shell, { passes: 10 });
    expect(result.ok && result.energy).toBeCloseTo(1, 9);
  });

  it("rolls a bent sheet out exactly: a cylinder has no stretch", () => {
    const result = unfoldShell(
      grid(24, (x, y) => [Math.cos(2 * x), Math.sin(2 * x), y]),
      { passes: 20 },
    );
    expect(result.ok && result.energy).toBeCloseTo(1, 5);
  });

  it("keeps the holes of a shell that is flat, and tells a tube what it is", () => {
    // A washer: a ring of 24 x 3 squares that closes.
    const washer = (height: number): ShellMesh => {
      const positions: number[] = [];
      const triangles: number[] = [];
      for (let j = 0; j <= 3; j++)
        for (let i = 0; i < 24; i++) {
          const [a, r] = [(i * Math.PI) / 12, height ? 1 : 1 + j / 3];
          positions.push(r * Math.cos(a), r * Math.sin(a), (height * j) / 3);
        }
      for (let j = 0; j < 3; j++)
        for (let i = 0; i < 24; i++) {
          const [a, b] = [24 * j + i, 24 * j + ((i + 1) % 24)];
          triangles.push(a, b + 24, b, a, a + 24, b + 24);
        }
      return {
        wedges: Uint32Array.from({ length: 96 }, (_, i) => i),
        triangles: Uint32Array.from(triangles),
        positions: Float64Array.from(positions),
      };
    };
    const flat = unfoldShell(washer(0), { passes: 10 });
    expect(flat.ok && flat.energy).toBeCloseTo(1, 6);
    expect(flat.ok && flips(washer(0), flat.uv)).toBe(0);
    expect(flat.ok && flat.uv.length).toBe(2 * 96);
    expect(unfoldShell(washer(3), { passes: 10 })).toEqual({
      ok: false,
      reason: "is a tube or ring: it has two borders",
    });
  });

  it("keeps a half sphere's stretch near its known least, angles alone near 1.08", () => {
    const half = grid(24, (x, y) => {
      const [p, q] = [2 * x - 1, 2 * y - 1];
      const r = Math.max(Math.abs(p), Math.abs(q));
      const d = Math.hypot(p, q) || 1;
      const [a, b] = [(p / d) * r, (q / d) * r];
      return [a, b, Math.sqrt(Math.max(0, 1 - a * a - b * b))];
    });
    const angles = unfoldShell(half, { passes: 0 });
    const both = unfoldShell(half, { passes: 20 });
    expect(angles.ok && angles.energy).toBeGreaterThan(1.07);
    expect(both.ok && both.energy).toBeGreaterThan(1.03);
    expect(both.ok && both.energy).toBeLessThan(1.045);
  });

  it("keeps angles or areas better as it is told", () => {
    const dome = grid(16, (x, y) => [
      2 * x - 1,
      2 * y - 1,
      0.9 * Math.cos(1.4 * (2 * x - 1)) * Math.cos(1.4 * (2 * y - 1)),
    ]);
    /** Mean quotient of stretches, and mean change of area, both at least 1. */
    const errors = (lean: number) => {
      const result = unfoldShell(dome, { passes: 60, lean });
      if (!result.ok) throw new Error(result.reason);
      expect([flips(dome, result.uv), result.crosses]).toEqual([0, false]);
      const shapes = new ShellShapes(kernels, dome);
      const rests = kernels.f64(shapes.rests, 7 * shapes.count).slice();
      let [angles, areas] = [0, 0];
      for (let t = 0; t < shapes.count; t++) {
        const f = [0, 0, 0, 0];
        for (let k = 0; k < 3; k++)
          for (let d = 0; d < 4; d++)
            f[d]! +=
              (result.uv[2 * dome.triangles[3 * t + k]! + (d >> 1)]! / Math.sqrt(shapes.worldArea)) *
              rests[7 * t + 1 + 2 * k + (d & 1)]!;
        const det = f[0]! * f[3]! - f[1]! * f[2]!;
        angles += rests[7 * t]! * (f.reduce((sum, w) => sum + w * w, 0) / (2 * det));
        areas += rests[7 * t]! * (det + 1 / det) * 0.5;
      }
      return { angles, areas };
    };
    const [angular, even, areal] = [-1, 0, 1].map(errors) as [
      ReturnType<typeof errors>,
      ReturnType<typeof errors>,
      ReturnType<typeof errors>,
    ];
    expect(angular.angles).toBeLessThan(even.angles);
    expect(areal.areas).toBeLessThan(even.areas);
    expect(angular.angles).toBeLessThan(1.005);
    expect(areal.areas).toBeLessThan(1.005);
  });

  it("never flips a triangle, however rough the sheet", () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: -0.4, max: 0.4, noNaN: true }), { minLength: 49, maxLength: 49 }), (z) => {
        const shell = grid(6, (x, y) => [x, y, z[Math.round(y * 6) * 7 + Math.round(x * 6)]!]);
        const result = unfoldShell(shell, { passes: 15 });
        expect(result.ok).toBe(true);
        if (result.ok) expect(flips(shell, result.uv)).toBe(0);
      }),
      { numRuns: 40 },
    );
  });

  it("starts from a circle without a flip where it must", () => {
    const shell = grid(9, (x, y) => [x, y, 3 * Math.sin(9 * x) * Math.cos(8 * y)]);
    const system = new ShellSystem(new ShellShapes(kernels, shell));
    const round = tutteMap(system, formOf(shell).loops[0]!)!;
    expect(flips(shell, round)).toBe(0);
    const minimiser = new StretchMinimiser(system);
    const before = minimiser.begin(round);
    const after = minimiser.minimise({ passes: 30 });
    expect(flips(shell, minimiser.map())).toBe(0);
    expect(after.energy).toBeLessThan(before);
  });

  it("comes by coarser sheets to the least stretch that passes from a circle come to, without a flip on the way", () => {
    // Rolled up by more than a turn and a half, and buckled: 3,200 triangles.
    const shell = grid(40, (x, y) => {
      const [r, a] = [1 + 0.5 * x, 10 * x];
      return [r * Math.cos(a), r * Math.sin(a), 3 * y + 0.3 * Math.sin(9 * y) * Math.sin(5 * x)];
    });
    const coarse = coarseToFine(kernels, shell, { apart: true, loop: formOf(shell).loops[0]! })!;
    expect(flips(shell, coarse)).toBe(0);
    const least = leastOf(shell, coarse, 200);
    const system = new ShellSystem(new ShellShapes(kernels, shell));
    const round = leastOf(shell, tutteMap(system, formOf(shell).loops[0]!)!, 400);
    expect(Math.abs(least - round)).toBeLessThan(1e-4 * round);
    const result = unfoldShell(shell, { passes: 20 });
    expect(result.ok && result.energy).toBeLessThan(1.005 * least);
  });

  it("goes on to a whole map without a flip when it is told to end at once", () => {
    const shell = grid(40, (x, y) => [Math.cos(7 * x) * (2 + y), Math.sin(7 * x) * (2 + y), 4 * y * y]);
    for (const most of [0, 1, 3]) {
      let asked = 0;
      const map = coarseToFine(kernels, shell, {
        apart: true,
        loop: formOf(shell).loops[0]!,
        isOver: () => asked++ >= most,
      })!;
      expect(flips(shell, map)).toBe(0);
    }
  });

  it("gives the same with SIMD and without, to rounding", () => {
    const shell = grid(30, (x, y) => [x, y, 0.4 * Math.sin(6 * x) * Math.cos(5 * y)]);
    const [a, b] = [true, false].map(
      (simd) => coarseToFine(new Kernels(simd), shell, { apart: true, loop: formOf(shell).loops[0]! })!,
    );
    const size = Math.max(...a!.map(Math.abs));
    for (let i = 0; i < a!.length; i++) expect(Math.abs(a![i]! - b![i]!)).toBeLessThan(1e-6 * size);
  });
});

/** The least energy that passes come to from a map. */
function leastOf(shell: ShellMesh, map: Float64Array, passes: number): number {
  return kernels.during(() => {
    const minimiser = new StretchMinimiser(new ShellSystem(new ShellShapes(kernels, shell)));
    minimiser.begin(map);
    return minimiser.minimise({ passes, enough: 1e-9 }).energy;
  });
}

describe("the stretch energy", () => {
  const shell = grid(3, (x, y) => [x, y, 0.4 * x * y]);
  const system = new ShellSystem(new ShellShapes(kernels, shell));
  const at = system.takePairs();
  const out = system.takePairs();
  const x = Float64Array.from(shell.wedges, (_, i) => i).reduce<number[]>((all, i) => {
    all.push(shell.positions[3 * i]! * 1.3 + 0.1 * shell.positions[3 * i + 1]!, shell.positions[3 * i + 1]! * 0.8);
    return all;
  }, []);
  const energyOf = (pairs: readonly number[]): number => {
    system.write(Float64Array.from(pairs), at);
    return system.energy(at);
  };
  const gradientOf = (pairs: readonly number[]): Float64Array => {
    system.write(Float64Array.from(pairs), at);
    expect(system.gradient(at, out)).toBeCloseTo(energyOf(pairs), 12);
    return system.read(out);
  };
  const moved = (from: readonly number[], i: number, h: number) => from.map((v, k) => (k === i ? v + h : v));

  it("is that of the singular values of what each triangle does", () => {
    // Twice as long and half as wide: (4 + 1/4 + 1/4 + 4) / 4.
    const flat = grid(2, (a, b) => [a, b, 0]);
    const shapes = new ShellShapes(kernels, flat);
    const map = kernels.put(
      Float64Array.from(flat.wedges, (i) => i).reduce((all, i) => {
        all[2 * i] = 2 * flat.positions[3 * i]!;
        all[2 * i + 1] = flat.positions[3 * i + 1]! / 2;
        return all;
      }, new Float64Array(18)),
    );
    expect(shapes.energy(map)).toBeCloseTo(8.5 / 4, 12);
  });

  it("has the gradient that differences have", () => {
    const gradient = gradientOf(x);
    const h = 1e-6;
    for (let i = 0; i < x.length; i++)
      expect(gradient[i]).toBeCloseTo((energyOf(moved(x, i, h)) - energyOf(moved(x, i, -h))) / (2 * h), 6);
  });

  it("has the gradient that differences have with angles or areas weighing more", () => {
    const h = 1e-6;
    for (const more of [
      { angles: 3, areas: 0 },
      { angles: 0, areas: 2 },
    ]) {
      const at2 = (pairs: readonly number[]): number => {
        system.write(Float64Array.from(pairs), at);
        return system.gradient(at, out, more);
      };
      at2(x);
      const gradient = system.read(out);
      for (let i = 0; i < x.length; i++)
        expect(gradient[i]).toBeCloseTo((at2(moved(x, i, h)) - at2(moved(x, i, -h))) / (2 * h), 5);
      // A map that keeps both costs no more for it.
      const flat = grid(2, (a, b) => [a, b, 0]);
      const shapes = new ShellShapes(kernels, flat);
      const same = kernels.put(Float64Array.from({ length: 18 }, (_, i) => flat.positions[3 * (i >> 1) + (i & 1)]!));
      expect(shapes.gradient(same, kernels.take(18 * 8), more)).toBeCloseTo(1, 12);
    }
  });

  it("has a metric that is the Hessian's mean over u and v, where that is positive by itself", () => {
    const wide = x.map((v) => v * 1.6); // stretched everywhere: no eigenvalue is kept from below
    system.write(Float64Array.from(wide), at);
    system.metric(at);
    const { pattern, tree, factorisation } = system;
    const values = kernels.f64(factorisation.values, factorisation.size).slice();
    const h = 1e-6;
    for (let p = 0; p < pattern.n; p++) {
      const v = tree.order[p]!;
      const slopes = [0, 1].map((d) => {
        const [plus, minus] = [h, -h].map((by) => gradientOf(moved(wide, 2 * v + d, by)));
        return (w: number) => (plus![2 * w + d]! - minus![2 * w + d]!) / (2 * h);
      });
      for (let e = pattern.start[p]!; e < pattern.start[p + 1]!; e++) {
        const w = tree.order[pattern.index[e]!]!;
        expect(values[e]).toBeCloseTo((slopes[0]!(w) + slopes[1]!(w)) / 2, 4);
      }
    }
  });

  it("is infinite for a flip, and steps stop short of one", () => {
    expect(energyOf(x.map((v, i) => (i % 2 ? -v : v)))).toBe(Infinity);
    const one: ShellMesh = {
      wedges: Uint32Array.of(0, 1, 2),
      triangles: Uint32Array.of(0, 1, 2),
      positions: Float64Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0),
    };
    const shapes = new ShellShapes(kernels, one);
    const start = kernels.put(Float64Array.of(0, 0, 1, 0, 0, 1));
    const down = kernels.put(Float64Array.of(0, 0, 0, 0, 0, -2));
    const up = kernels.put(Float64Array.of(0, 0, 0, 0, 0, 2));
    expect(shapes.stepBeforeFlip(start, down)).toBeCloseTo(0.5, 12);
    expect(shapes.stepBeforeFlip(start, up)).toBe(Infinity);
  });

  it("is lessened point by point, and never by a flip", () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -0.1, max: 0.1, noNaN: true }), { minLength: x.length, maxLength: x.length }),
        (by) => {
          const from = x.map((v, i) => v + by[i]!);
          const before = energyOf(from);
          fc.pre(Number.isFinite(before));
          system.smooth(at, 3, 0, null);
          expect(system.energy(at)).toBeLessThanOrEqual(before);
        },
      ),
      { numRuns: 30 },
    );
  });
});
