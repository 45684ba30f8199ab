import { describe, expect, it } from "vitest";
import { Kernels } from "../kernels/kernels";
import { signedArea } from "./area";
import { coarserDisks, coarseToFine, conformalAhead } from "./coarse-to-fine";
import { conformalMap } from "./conformal";
import { formOf, type ShellMesh } from "./shell-mesh";
import { ShellShapes, ShellSystem } from "./shell-system";
import { unfoldShell } from "./unfold-shell";

/** A sheet of N x N squares, lifted into space. */
function sheet(n: number, lift: (x: number, y: number) => readonly [number, number, number]): ShellMesh {
  const positions = new Float64Array(3 * (n + 1) ** 2);
  const triangles = new Uint32Array(6 * n * n);
  for (let j = 0, at = 0; j <= n; j++)
    for (let i = 0; i <= n; i++) {
      const a = j * (n + 1) + i;
      positions.set(lift(i / n - 0.5, j / n - 0.5), 3 * a);
      if (i === n || j === n) continue;
      triangles.set([a, a + 1, a + n + 2, a, a + n + 2, a + n + 1], at);
      at += 6;
    }
  return { positions, triangles, wedges: new Uint32Array((n + 1) ** 2) };
}
const cloth = (x: number, y: number) => [x, y, 0.05 * Math.sin(9 * x + 2 * y)] as const;
/** A tall bulge: its conformal map is far from even. */
const bulge = (x: number, y: number) => [x, y, 2 * Math.exp(-20 * (x * x + y * y))] as const;
/** A lower one, whose conformal map flips nothing. */
const swell = (x: number, y: number) => [x, y, 0.75 * Math.exp(-12 * (x * x + y * y))] as const;
const kernels = new Kernels();

describe("the conformal map of a coarser disk", () => {
  it("tells whether that of the whole is even", () => {
    for (const [lift, isEven] of [
      [cloth, true],
      [swell, false],
    ] as const) {
      const shell = sheet(80, lift);
      const loop = formOf(shell).loops[0]!;
      kernels.during(() => {
        const ahead = conformalAhead(kernels, shell, coarserDisks(kernels, shell), loop);
        const system = new ShellSystem(new ShellShapes(kernels, shell));
        const at = system.takePairs();
        system.write(conformalMap(system, loop)!, at);
        const whole = system.energy(at);
        expect(whole < 1.5).toBe(isEven);
        expect(ahead.energy / whole).toBeGreaterThan(0.5);
        expect(ahead.energy / whole).toBeLessThan(2);
        expect(ahead.crosses).toBe(false);
      });
    }
  });
});

describe("coarser disks", () => {
  it("lead to the same map whether they are made before or on the way", () => {
    const shell = sheet(50, bulge);
    const loop = formOf(shell).loops[0]!;
    const [own, given] = [false, true].map((isGiven) =>
      kernels.during(() => {
        const coarser = isGiven ? coarserDisks(kernels, shell) : undefined;
        if (coarser) conformalAhead(kernels, shell, coarser, loop);
        return coarseToFine(kernels, shell, { apart: true, loop, coarser })!;
      }),
    );
    expect(given).toEqual(own);
  });

  it("spare large uneven shells their conformal map, and nothing is worse for it", () => {
    const shell = sheet(150, swell);
    const result = unfoldShell(shell, { passes: 20 });
    if (!result.ok) throw new Error(result.reason);
    let flips = 0;
    for (let t = 0; t < shell.triangles.length; t += 3) if (!(signedArea(result.uv, shell.triangles, t) > 0)) flips++;
    expect(flips).toBe(0);
    expect(result.crosses).toBe(false);
    const small = unfoldShell(sheet(75, swell), { passes: 20 });
    if (!small.ok) throw new Error(small.reason);
    // The same form in a quarter of the triangles, which has its conformal map looked at.
    expect(result.energy / small.energy).toBeGreaterThan(0.97);
    expect(result.energy / small.energy).toBeLessThan(1.03);
  });
});
