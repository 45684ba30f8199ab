import { describe, expect, it } from "vitest";
import { Kernels } from "../kernels/kernels";
import type { ShellMesh } from "./shell-mesh";
import { keptPlan } from "./shell-plans";
import { unfoldShell } from "./unfold-shell";

/** A bulging sheet of N x N squares; another for every seed. */
function sheet(n: number, seed = 0): ShellMesh {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let j = 0; j <= n; j++)
    for (let i = 0; i <= n; i++) {
      positions.push(i / n, j / n, 0.3 * Math.sin(3 * (i / n) + seed) * Math.sin(3 * (j / n)));
      const a = j * (n + 1) + i;
      if (i < n && j < n) triangles.push(a, a + 1, a + n + 2, a, a + n + 2, a + n + 1);
    }
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    wedges: new Uint32Array((n + 1) ** 2),
  };
}
const copy = ({ positions, triangles, wedges }: ShellMesh): ShellMesh => ({
  positions: positions.slice(),
  triangles: triangles.slice(),
  wedges,
});
const kernels = new Kernels();
const planOf = (shell: ShellMesh, pairs: number[] = []) => kernels.during(() => keptPlan(kernels, shell, pairs));

describe("plans of shells", () => {
  it("are kept for the same shell, wherever it comes from, and for no other", () => {
    const shell = sheet(40);
    const plan = planOf(shell);
    expect(planOf(copy(shell))).toBe(plan);
    expect(planOf(copy(shell), [3, 900])).not.toBe(plan);
    const other = planOf(sheet(40, 1));
    expect(other).not.toBe(plan);
    const turned = copy(shell);
    [turned.triangles[0], turned.triangles[1], turned.triangles[2]] = [1, 42, 0];
    expect(planOf(turned)).not.toBe(plan);
    expect(planOf(copy(shell))).toBe(plan);
  });

  it("are let go when others were worked on since, and not kept of small shells", () => {
    const shell = sheet(40);
    const plan = planOf(shell);
    for (let seed = 2; seed < 12; seed++) planOf(sheet(150, seed));
    const again = planOf(copy(shell));
    expect(again).not.toBe(plan);
    expect(again).toEqual(plan);
    const small = sheet(10);
    expect(planOf(small)).not.toBe(planOf(copy(small)));
  });

  it("change nothing of what comes of a shell", () => {
    const shell = sheet(60, 20);
    const [first, second] = [unfoldShell(shell, { passes: 10 }), unfoldShell(copy(shell), { passes: 10 })];
    for (let seed = 30; seed < 42; seed++) planOf(sheet(150, seed));
    const third = unfoldShell(copy(shell), { passes: 10 });
    expect(second).toEqual(first);
    expect(third).toEqual(first);
  });
});
