import { withKernels } from "../kernels/kernels";
import { clipEars } from "../mesh/triangulate";
import { layoutArea } from "./area";
import { borderLengths, formOf, type ShellForm, type ShellMesh } from "./shell-mesh";
import { ShellShapes } from "./shell-system";

/** Whether a shell would be a disk but for its holes. */
export const hasHoles = ({ faults, genus, loops }: ShellForm): boolean => !faults && !genus && loops.length > 1;

/** What a triangle in a hole counts: next to nothing, but it must not flip. */
const IN_A_HOLE = 1e-3;

/** Whether triangles from a place to every edge of a closed line all have area, on its left. */
function seesAll(places: ReadonlyArray<readonly [number, number]>, [u, v]: readonly [number, number]): boolean {
  return places.every(([a, b], i) => {
    const [c, d] = places[(i + 1) % places.length]!;
    return (c - a) * (v - b) - (d - b) * (u - a) > 0;
  });
}

const meanOf = (loop: readonly number[], of: Float64Array, stride: number, d: number): number =>
  loop.reduce((sum, p) => sum + of[stride * p + d]!, 0) / loop.length;

/**
 * A shell with holes as a disk: every border but the longest is closed by triangles, about the middle of it where that
 * sees all of it, else from corner to corner. They keep the hole from turning over and from being lain over, and count
 * next to nothing themselves.
 *
 * @param uv 2 a point, the layout whose holes are closed; where not given, those of space are
 * @returns the disk, whose first points are those of the shell, and its layout
 */
export function holesFilled(
  shell: ShellMesh,
  { loops }: ShellForm,
  uv?: Float64Array,
): { shell: ShellMesh; uv: Float64Array | undefined } {
  const lengths = loops.map((loop) => borderLengths(shell, loop).reduce((sum, length) => sum + length));
  const outer = lengths.indexOf(Math.max(...lengths));
  const positions = [...shell.positions];
  const places = uv && [...uv];
  const triangles = [...shell.triangles];
  loops.forEach((border, k) => {
    if (k === outer) return;
    // A hole lies on the right of its border.
    const loop = [...border].reverse();
    const way = uv && loop.map((p) => [uv[2 * p]!, uv[2 * p + 1]!] as const);
    const middle = uv && ([meanOf(loop, uv, 2, 0), meanOf(loop, uv, 2, 1)] as const);
    if (way && !seesAll(way, middle!)) {
      for (const ear of clipEars(way)) triangles.push(...ear.map((p) => loop[p]!));
      return;
    }
    const at = positions.length / 3;
    for (let d = 0; d < 3; d++) positions.push(meanOf(loop, shell.positions, 3, d));
    if (middle) places!.push(...middle);
    loop.forEach((p, i) => {
      triangles.push(p, loop[(i + 1) % loop.length]!, at);
    });
  });
  const own = shell.triangles.length / 3;
  const weights = Float64Array.from({ length: triangles.length / 3 }, (_, t) =>
    t < own ? (shell.weights?.[t] ?? 1) : IN_A_HOLE,
  );
  const disk = {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    wedges: Uint32Array.from({ length: positions.length / 3 }, (_, i) => shell.wedges[i] ?? 0),
    weights,
  };
  return { shell: disk, uv: places && Float64Array.from(places) };
}

/** A shell as a disk, with its layout as a map of it. */
export interface LayoutMap {
  /** With its holes filled, where it has some: its first points are those of the shell. */
  readonly shell: ShellMesh;
  /** 2 a point, of an area of 1, wound as the shell is. */
  readonly map: Float64Array;
  /** From the lengths of the layout to those of the map, for u and for v. */
  readonly scale: readonly [number, number];
}

/** The layout of a shell as solvers take it, whatever its size and mirrored or not. @param uv 2 a point */
export function mapOfLayout(shell: ShellMesh, uv: Float64Array): LayoutMap {
  const turn = layoutArea(shell.triangles, uv) < 0 ? -1 : 1;
  const seen = turn < 0 ? uv.map((x, i) => (i % 2 ? x : -x)) : uv;
  const form = formOf(shell);
  const disk = hasHoles(form) ? holesFilled(shell, form, seen) : { shell, uv: seen };
  const unit = 1 / Math.sqrt(layoutArea(disk.shell.triangles, disk.uv!) || 1);
  return { shell: disk.shell, map: disk.uv!.map((x) => x * unit), scale: [turn * unit, unit] };
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
