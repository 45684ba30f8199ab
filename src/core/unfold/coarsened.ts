import type { Kernels } from "../kernels/kernels";
import { type ShellMesh, shellArea } from "./shell-mesh";

/** A point that was taken out of a surface by drawing it along an edge onto a neighbour. */
export interface TakenOut {
  readonly point: number;
  /** Points beside it, in turn; of one on the border from one end of it to the other. */
  readonly ring: Uint32Array;
  readonly onBorder: boolean;
  /** Which of the ring it was drawn onto. */
  readonly onto: number;
}

/** Numbers of a record before those of its ring. */
const HEAD = 4;
/** Bytes of records a point at the most. */
const RECORD = 80;

/** Where a surface that is made coarser lies in the memory of kernels, as addresses. */
interface Coarsening {
  readonly triangles: number;
  /** A byte a triangle: 1 for one that is gone. */
  readonly gone: number;
  readonly records: number;
  /** Where every record begins. */
  readonly starts: number;
}

/** Makes a surface coarser. What was taken out stays in memory when it is done, to be put back. */
export function coarsening(
  kernels: Kernels,
  { triangles, positions }: ShellMesh,
  places: number,
  work: (at: Coarsening) => void,
): void {
  const points = positions.length / 3;
  const corners = triangles.length;
  const records = kernels.take(RECORD * points);
  const starts = kernels.take(4 * points);
  kernels.during(() => {
    const list = kernels.put(triangles);
    const gone = kernels.take(corners / 3);
    const scratch = kernels.take(8 * corners + 21 * points);
    const area = shellArea({ triangles, positions });
    kernels.code.beginCoarsening(points, corners, list, places, gone, records, starts, scratch, area);
    work({ triangles: list, gone, records, starts });
  });
}

/** Triangles that are not gone. */
export function remaining(kernels: Kernels, list: number, gone: number, count: number): Uint32Array {
  const all = kernels.u32(list, 3 * count);
  const flags = new Uint8Array(kernels.code.memory.buffer, gone, count);
  let left = 0;
  for (let t = 0; t < count; t++) if (!flags[t]) left++;
  const out = new Uint32Array(3 * left);
  for (let t = 0, at = 0; t < count; t++) {
    if (flags[t]) continue;
    out[at++] = all[3 * t]!;
    out[at++] = all[3 * t + 1]!;
    out[at++] = all[3 * t + 2]!;
  }
  return out;
}

/**
 * A surface with fewer points, its form kept as far as that goes; borders stay in one piece.
 *
 * @returns 3 points per triangle that is left, by their old numbers, and what was taken out, in that order
 */
export function coarsened(
  kernels: Kernels,
  shell: ShellMesh,
  left: number,
): { triangles: Uint32Array; taken: TakenOut[] } {
  return kernels.during(() => {
    const places = kernels.put(shell.positions);
    const out = { triangles: shell.triangles, taken: [] as TakenOut[] };
    coarsening(kernels, shell, places, ({ triangles, gone, records, starts }) => {
      const count = kernels.code.coarsenTo(left);
      out.triangles = remaining(kernels, triangles, gone, shell.triangles.length / 3);
      const points = shell.positions.length / 3;
      const [numbers, begins] = [kernels.u32(records, (RECORD / 4) * points), kernels.u32(starts, points)];
      for (let i = 0; i < count; i++) {
        const at = begins[i]!;
        const size = numbers[at + 3]!;
        out.taken.push({
          point: numbers[at]!,
          onBorder: numbers[at + 1] === 1,
          onto: numbers[at + 2]!,
          ring: numbers.slice(at + HEAD, at + HEAD + size),
        });
      }
    });
    return out;
  });
}
