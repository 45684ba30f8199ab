import { withKernels } from "../kernels/kernels";
import { layoutArea } from "./area";
import { borderLengths, type ShellForm, type ShellMesh } from "./shell-mesh";
import { ShellShapes } from "./shell-system";

/**
 * A shell with holes as a disk: every border but the longest is closed by triangles about the middle of it. They keep the
 * hole from turning over and from being lain over.
 */
export function holesFilled(shell: ShellMesh, { loops }: ShellForm): ShellMesh {
  const lengths = loops.map((loop) => borderLengths(shell, loop).reduce((sum, length) => sum + length));
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
  const area = layoutArea(shell.triangles, uv);
  return withKernels((kernels) => {
    const shapes = new ShellShapes(kernels, shell);
    const energy = shapes.energy(kernels.put(uv.map((x) => x / Math.sqrt(area))));
    const scale = Math.sqrt(shapes.worldArea / area);
    return { uv: uv.map((x) => x * scale), energy };
  });
}
