import { expect, it } from "vitest";
import { easingCut } from "./easing-cut";
import { formOf, type ShellMesh } from "./shell-mesh";
import { unfoldShell } from "./unfold-shell";

const [LONG, WIDE] = [90, 10];

/** A ramp that winds round so many times: flat it would lie over itself. */
function ramp(turns: number): ShellMesh {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let j = 0; j <= WIDE; j++)
    for (let i = 0; i <= LONG; i++) {
      const [a, r] = [(2 * Math.PI * turns * i) / LONG, 1 + (1.2 * j) / WIDE];
      positions.push(r * Math.cos(a), r * Math.sin(a), 0.12 * a);
    }
  for (let j = 0; j < WIDE; j++)
    for (let i = 0; i < LONG; i++) {
      const a = j * (LONG + 1) + i;
      triangles.push(a, a + LONG + 2, a + 1, a, a + LONG + 1, a + LONG + 2);
    }
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    wedges: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i),
  };
}

it("parts a ramp across, so that both pieces lie flat with less stretch", () => {
  const shell = ramp(1.5);
  const loop = formOf(shell).loops[0]!;
  const free = unfoldShell(shell, { passes: 20, overItself: true });
  if (!free.ok) throw new Error(free.reason);
  const way = easingCut(shell, free.uv, loop)!;
  // From the inner border to the outer, each once, along edges.
  const row = (v: number) => Math.floor(v / (LONG + 1));
  expect([row(way[0]!), row(way.at(-1)!)].sort((a, b) => a - b)).toEqual([0, WIDE]);
  expect(way.slice(1, -1).every((v) => row(v) > 0 && row(v) < WIDE)).toBe(true);
  for (let i = 1; i < way.length; i++) expect(Math.abs(way[i]! - way[i - 1]!)).toBeLessThanOrEqual(LONG + 2);
  const column = (v: number) => v % (LONG + 1);
  const across = way.map(column);
  expect(Math.min(...across)).toBeGreaterThan(LONG / 6);
  expect(Math.max(...across)).toBeLessThan((5 * LONG) / 6);
});

it("finds nothing to part where nothing is covered", () => {
  const shell = ramp(0.5);
  const flat = unfoldShell(shell, { passes: 20 });
  expect(flat.ok && easingCut(shell, flat.uv, formOf(shell).loops[0]!)).toBeNull();
});
