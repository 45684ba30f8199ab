import { withKernels } from "../kernels/kernels";
import type { ShellForm, ShellMesh } from "./shell-mesh";
import { ShellShapes } from "./shell-system";

/** The length of a closed way over points in space. */
function lengthOf(positions: Float64Array, loop: readonly number[]): number {
  return loop.reduce((sum, v, i) => {
    const [a, b] = [3 * v, 3 * loop[(i + 1) % loop.length]!];
    const [x, y, z] = [0, 1, 2].map((d) => positions[b + d]! - positions[a + d]!) as [number, number, number];
    return sum + Math.sqrt(x * x + y * y + z * z);
  }, 0);
}

/**
 * A shell with holes as a disk: every border but the longest is closed by triangles about the middle of it. They keep the
 * hole from turning over and from being lain over.
 */
export function holesFilled(shell: ShellMesh, { loops }: ShellForm): ShellMesh {
  const lengths = loops.map((loop) => lengthOf(shell.positions, loop));
  const outer = lengths.indexOf(Math.max(...lengths));
  const positions = [...shell.positions];
  const triangles = [...shell.triangles];
  loops.forEach((loop, k) => {
    if (k === outer) return;
    const middle = positions.length / 3;
    for (let d = 0; d < 3; d++)
      positions.push(loop.reduce((sum, v) => sum + shell.positions[3 * v + d]!, 0) / loop.length);
    loop.forEach((v, i) => {
      triangles.push(loop[(i + 1) % loop.length]!, v, middle);
    });
  });
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    wedges: Uint32Array.from({ length: positions.length / 3 }, (_, i) => shell.wedges[i] ?? 0),
  };
}

/** The map of a shell alone, of one with its holes filled: at the shell's own area, with the energy that it has. */
export function withoutFilling(shell: ShellMesh, filled: Float64Array): { uv: Float64Array; energy: number } {
  const uv = filled.slice(0, (2 * shell.positions.length) / 3);
  let area = 0;
  for (let t = 0; t < shell.triangles.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => 2 * shell.triangles[t + k]!) as [number, number, number];
    area += ((uv[b]! - uv[a]!) * (uv[c + 1]! - uv[a + 1]!) - (uv[c]! - uv[a]!) * (uv[b + 1]! - uv[a + 1]!)) / 2;
  }
  return withKernels((kernels) => {
    const shapes = new ShellShapes(kernels, shell);
    const energy = shapes.energy(kernels.put(uv.map((x) => x / Math.sqrt(area))));
    const scale = Math.sqrt(shapes.worldArea / area);
    return { uv: uv.map((x) => x * scale), energy };
  });
}
