import { describe, expect, it } from "vitest";
import { Interrupted } from "../kernels/kernels";
import { signedArea } from "./area";
import type { ShellMesh } from "./shell-mesh";
import { unfoldShell } from "./unfold-shell";

// Shells so large that single steps of unfolding them are long: told to stop, they end within one.

/** A sheet that bulges, of N x N squares. */
function bulge(n: number): ShellMesh {
  const positions = new Float64Array(3 * (n + 1) ** 2);
  const triangles = new Uint32Array(6 * n * n);
  for (let j = 0, at = 0; j <= n; j++)
    for (let i = 0; i <= n; i++) {
      const [x, y] = [i / n - 0.5, j / n - 0.5];
      const a = j * (n + 1) + i;
      positions.set([x, y, 1.2 * Math.exp(-9 * (x * x + y * y))], 3 * a);
      if (i === n || j === n) continue;
      triangles.set([a, a + 1, a + n + 2, a, a + n + 2, a + n + 1], at);
      at += 6;
    }
  return { positions, triangles, wedges: new Uint32Array((n + 1) ** 2) };
}

const shell = bulge(200);
const flips = (uv: Float64Array): number => {
  let count = 0;
  for (let t = 0; t < shell.triangles.length; t += 3) if (!(signedArea(uv, shell.triangles, t) > 0)) count++;
  return count;
};

/** Unfolds until it has been asked so often. @returns the energy, or nothing where there was no result by then */
function unfoldedUntil(most: number): { energy: number | null; asked: number } {
  let asked = 0;
  try {
    const result = unfoldShell(shell, { passes: 20, isOver: () => ++asked > most });
    if (!result.ok) throw new Error(result.reason);
    expect(flips(result.uv)).toBe(0);
    return { energy: result.energy, asked };
  } catch (error) {
    if (!(error instanceof Interrupted)) throw error;
    return { energy: null, asked };
  }
}

describe("a large shell that is told to stop", () => {
  it("keeps what was reached without a flip, or ends without a result, whenever that is", () => {
    const whole = unfoldedUntil(Infinity);
    expect(whole.asked).toBeGreaterThan(10);
    const first = unfoldedUntil(0);
    expect(first.energy).toBeNull();
    const energies = [0.6, 0.95].map((share) => {
      const { energy, asked } = unfoldedUntil(Math.floor(share * whole.asked));
      // It looks up a few times more while it comes to its end, and does not go on with the work.
      expect(asked).toBeLessThan(share * whole.asked + 8);
      return energy;
    });
    const kept = energies.filter((e) => e !== null);
    expect(kept.length).toBeGreaterThan(0);
    for (const energy of kept) expect(energy).toBeGreaterThanOrEqual(whole.energy! * (1 - 1e-9));
  });
});
