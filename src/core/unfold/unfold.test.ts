import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box, lathe } from "../../../demo/kit";
import { emptyLayout } from "../layout/layout";
import type { Shell } from "../mesh/indices";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { signedArea } from "./conformal";
import { minimiseStretch, stepBeforeFlip } from "./minimise-stretch";
import { patternOf, restShapes } from "./rest-shapes";
import { formOf, type ShellMesh, shellMesh } from "./shell-mesh";
import { systemOf } from "./shell-system";
import { stretchEnergy, stretchGradient, stretchMetric } from "./stretch-energy";
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
    const system = systemOf(shell);
    const round = tutteMap(system, shell.positions, formOf(shell).loops[0]!)!;
    expect(flips(shell, round)).toBe(0);
    const minimised = minimiseStretch(system, round, { passes: 30 });
    expect(flips(shell, minimised.uv)).toBe(0);
    expect(minimised.energy).toBeLessThan(stretchEnergy(system.rest, round));
  });
});

describe("the stretch energy", () => {
  const shell = grid(3, (x, y) => [x, y, 0.4 * x * y]);
  const rest = restShapes(shell);
  const at = Float64Array.from(shell.wedges, (_, i) => i).reduce<number[]>((out, i) => {
    out.push(shell.positions[3 * i]! * 1.3 + 0.1 * shell.positions[3 * i + 1]!, shell.positions[3 * i + 1]! * 0.8);
    return out;
  }, []);
  const x = Float64Array.from(at);
  const moved = (i: number, h: number) => x.map((v, k) => (k === i ? v + h : v));

  it("has the gradient that differences have", () => {
    const gradient = new Float64Array(x.length);
    stretchGradient(rest, x, gradient);
    const h = 1e-6;
    for (let i = 0; i < x.length; i++)
      expect(gradient[i]).toBeCloseTo(
        (stretchEnergy(rest, moved(i, h)) - stretchEnergy(rest, moved(i, -h))) / (2 * h),
        6,
      );
  });

  it("has a metric that is the Hessian's mean over u and v, where that is positive by itself", () => {
    const pattern = patternOf(rest.triangles, rest.points);
    const values = new Float64Array(pattern.index.length);
    const wide = x.map((v) => v * 1.6); // stretched everywhere: no eigenvalue is kept from below
    stretchMetric(rest, pattern, wide, values);
    const h = 1e-6;
    const gradientAt = (i: number, by: number) => {
      const out = new Float64Array(x.length);
      stretchGradient(
        rest,
        wide.map((w, k) => (k === i ? w + by : w)),
        out,
      );
      return out;
    };
    for (let v = 0; v < pattern.n; v++) {
      const slopes = [0, 1].map((d) => {
        const [plus, minus] = [gradientAt(2 * v + d, h), gradientAt(2 * v + d, -h)];
        return (w: number) => (plus[2 * w + d]! - minus[2 * w + d]!) / (2 * h);
      });
      for (let e = pattern.start[v]!; e < pattern.start[v + 1]!; e++)
        expect(values[e]).toBeCloseTo((slopes[0]!(pattern.index[e]!) + slopes[1]!(pattern.index[e]!)) / 2, 4);
    }
  });

  it("is infinite for a flip, and steps stop short of one", () => {
    expect(
      stretchEnergy(
        rest,
        x.map((v, i) => (i % 2 ? -v : v)),
      ),
    ).toBe(Infinity);
    const triangle = Uint32Array.from([0, 1, 2]);
    const start = Float64Array.from([0, 0, 1, 0, 0, 1]);
    expect(stepBeforeFlip(triangle, start, Float64Array.from([0, 0, 0, 0, 0, -2]))).toBeCloseTo(0.45, 12);
    expect(stepBeforeFlip(triangle, start, Float64Array.from([0, 0, 0, 0, 0, 2]))).toBe(1);
  });
});
