import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Kernels } from "../kernels/kernels";
import { pointToSegment, segmentsCross } from "../numeric/segments";
import { signedArea } from "./area";
import { BorderBarrier } from "./border-barrier";
import { coarseToFine } from "./coarse-to-fine";
import { formOf, type ShellMesh } from "./shell-mesh";
import { ShellShapes } from "./shell-system";
import { unfoldShell } from "./unfold-shell";

type Place = readonly [number, number, number];

/** A sheet of w x h squares, some of whose edges are slit: its points there are doubled. */
function sheet(
  w: number,
  h: number,
  lift: (x: number, y: number) => Place,
  slitAt: (i: number, j: number) => boolean = () => false,
): ShellMesh {
  const positions: number[] = [];
  const triangles: number[] = [];
  const point = new Map<string, number>();
  const at = (i: number, j: number, side: string): number => {
    const key = `${i},${j},${slitAt(i, j) ? side : ""}`;
    if (!point.has(key)) {
      point.set(key, positions.length / 3);
      positions.push(...lift(i / w, j / h));
    }
    return point.get(key)!;
  };
  for (let j = 0; j < h; j++)
    for (let i = 0; i < w; i++) {
      // A slit runs up a column: squares on its left and on its right have points of their own on it.
      const corner = (di: number, dj: number) => at(i + di, j + dj, di ? "left" : "right");
      const [a, b, c, d] = [corner(0, 0), corner(1, 0), corner(1, 1), corner(0, 1)];
      triangles.push(a, b, c, a, c, d);
    }
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    wedges: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i),
  };
}

/** How far two crossing segments reach through each other: sides of a slit that lie on each other do not. */
function depth(ends: Float64Array, i: number, j: number): number {
  const end = (s: number, k: number): [number, number] => [ends[4 * s + 2 * k]!, ends[4 * s + 2 * k + 1]!];
  const to = (s: number, k: number, other: number) => pointToSegment(...end(s, k), ...end(other, 0), ...end(other, 1));
  return Math.min(to(i, 0, j), to(i, 1, j), to(j, 0, i), to(j, 1, i));
}

/** Whether two edges of the border cross, each looked at with every other. @param least how deep they have to */
function crossesItself(shell: ShellMesh, uv: Float64Array, least = 1e-6): boolean {
  const loop = formOf(shell).loops[0]!;
  const n = loop.length;
  const ends = Float64Array.from(
    { length: 4 * n },
    (_, k) => uv[2 * loop[((k >> 2) + ((k >> 1) & 1)) % n]! + (k & 1)]!,
  );
  for (let i = 0; i < n; i++)
    for (let j = i + 2; j < n; j++) {
      if (i === 0 && j === n - 1) continue;
      if (segmentsCross(ends, i, j) && depth(ends, i, j) > least) return true;
    }
  return false;
}

function flips({ triangles }: ShellMesh, uv: Float64Array): number {
  let count = 0;
  for (let t = 0; t < triangles.length; t += 3) if (!(signedArea(uv, triangles, t) > 0)) count++;
  return count;
}

/** A ramp that winds round more than once: flat it would lie over itself. */
const ramp = (turns: number, w = 70) =>
  sheet(w, 12, (x, y) => {
    const [a, r] = [2 * Math.PI * turns * x, 1 + 1.2 * y];
    return [r * Math.cos(a), r * Math.sin(a), 0.12 * a];
  });

describe("a border that is kept from crossing itself", () => {
  it("does not, though the least stretch lies over itself", () => {
    for (const turns of [1.2, 1.6]) {
      const shell = ramp(turns);
      const free = unfoldShell(shell, { passes: 30, overItself: true });
      const apart = unfoldShell(shell, { passes: 30 });
      expect(free.ok && free.crosses && crossesItself(shell, free.uv)).toBe(true);
      expect(apart.ok && !apart.crosses && !crossesItself(shell, apart.uv)).toBe(true);
      if (!apart.ok || !free.ok) return;
      expect([flips(shell, apart.uv), flips(shell, free.uv)]).toEqual([0, 0]);
      // It costs a little: a ring that winds wider.
      expect(apart.energy).toBeGreaterThan(free.energy);
      expect(apart.energy).toBeLessThan(1.1);
    }
  });

  it("does not on the way by coarser sheets either, with tips of slits that nearly close", () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 2, max: 46 }), fc.integer({ min: 6, max: 22 })), {
          minLength: 1,
          maxLength: 4,
        }),
        fc.double({ min: 0, max: 6, noNaN: true }),
        (slits, bend) => {
          const shell = sheet(
            48,
            24,
            (x, y) => [x * 2, y + 0.1 * Math.sin(bend * x * 3), 0.25 * Math.sin(bend * x) * Math.cos(bend * y)],
            (i, j) => slits.some(([at, depth]) => at === i && j < depth),
          );
          fc.pre(formOf(shell).isDisk);
          const result = unfoldShell(shell, { passes: 12 });
          expect(result.ok).toBe(true);
          if (!result.ok) return;
          expect([flips(shell, result.uv), result.crosses, crossesItself(shell, result.uv)]).toEqual([0, false, false]);
        },
      ),
      { numRuns: 12 },
    );
  });
});

describe("points that are put back into a coarser sheet", () => {
  const kernels = new Kernels();
  /** Not even as deep as sides may lie on each other elsewhere. */
  const NONE = 1e-13;
  const slitSheet = (slits: ReadonlyArray<readonly [number, number]>, bend: number, height: number) =>
    sheet(
      90,
      48,
      (x, y) => [x * 2, y + 0.1 * Math.sin(bend * x * 3), height * Math.sin(bend * x) * Math.cos(bend * y)],
      (i, j) => slits.some(([at, depth]) => at === i && j < depth),
    );
  // Nothing is smoothed or minimised once the coarsest sheet is laid out: what is looked at is how points are put back.
  const putBack = (shell: ShellMesh, apart: boolean) =>
    coarseToFine(kernels, shell, { apart, loop: formOf(shell).loops[0]!, isOver: () => true })!;

  it("keep the border from crossing itself, which it would else do", () => {
    const shell = slitSheet(
      [
        [61, 28],
        [25, 18],
        [28, 12],
        [23, 42],
        [18, 10],
        [11, 17],
        [68, 27],
        [26, 14],
        [14, 11],
        [3, 10],
      ],
      5.580978274345398,
      0.48769922256469733,
    );
    const apart = putBack(shell, true);
    expect([flips(shell, apart), crossesItself(shell, apart, NONE)]).toEqual([0, false]);
    const over = putBack(shell, false);
    expect([flips(shell, over), crossesItself(shell, over)]).toEqual([0, true]);
  });

  it("do so whatever the slits are", () => {
    const slit = fc.tuple(fc.integer({ min: 2, max: 88 }), fc.integer({ min: 6, max: 43 }));
    fc.assert(
      fc.property(
        fc.array(slit, { minLength: 4, maxLength: 16 }),
        fc.double({ min: 0, max: 8, noNaN: true }),
        (slits, bend) => {
          const shell = slitSheet(slits, bend, 0.3);
          fc.pre(formOf(shell).isDisk);
          expect(crossesItself(shell, putBack(shell, true), NONE)).toBe(false);
        },
      ),
      { numRuns: 20 },
    );
  });
});

it("lets the two ends of a flat ring that is cut once meet exactly", () => {
  const shell = sheet(60, 4, (x, y) => [(1 + y) * Math.cos(2 * Math.PI * x), (1 + y) * Math.sin(2 * Math.PI * x), 0]);
  const result = unfoldShell(shell, { passes: 10 });
  expect(result.ok && result.energy).toBeCloseTo(1, 9);
  expect(result.ok && result.crosses).toBe(false);
  // A ring that goes round twice has its sides on each other as well, and covers everything twice.
  const twice = sheet(60, 4, (x, y) => [(1 + y) * Math.cos(4 * Math.PI * x), (1 + y) * Math.sin(4 * Math.PI * x), 0]);
  const flat = unfoldShell(twice, { passes: 10, overItself: true });
  expect(flat.ok && flat.crosses).toBe(true);
  const apart = unfoldShell(twice, { passes: 30 });
  expect(apart.ok && [apart.crosses, crossesItself(twice, apart.uv), flips(twice, apart.uv)]).toEqual([
    false,
    false,
    0,
  ]);
});

describe("the barrier", () => {
  const kernels = new Kernels();
  const shell = ramp(0.9, 20);
  const shapes = new ShellShapes(kernels, shell);
  const barrier = new BorderBarrier(shapes, formOf(shell).loops[0]!);
  const size = 1 / Math.sqrt(shapes.worldArea);
  // The ring seen from above, wound up so far that its ends nearly meet.
  const ring = (closed: number): Float64Array => {
    const out = new Float64Array((2 * shell.positions.length) / 3);
    for (let v = 0; v < out.length / 2; v++) {
      const [x, y] = [shell.positions[3 * v]!, shell.positions[3 * v + 1]!];
      const r = Math.hypot(x, y);
      const a = ((Math.atan2(y, x) + 2 * Math.PI) % (2 * Math.PI)) * closed;
      out[2 * v] = size * r * Math.cos(a);
      out[2 * v + 1] = size * r * Math.sin(a);
    }
    return out;
  };
  const at = shapes.takePairs();
  const energyOf = (map: Float64Array): number => {
    kernels.f64(at, map.length).set(map);
    return barrier.energy(at);
  };

  it("costs nothing far away, more the nearer ends come, and no end once they cross", () => {
    expect(energyOf(ring(1))).toBe(0);
    const near = [1.1, 1.105, 1.108].map((k) => energyOf(ring(k)));
    expect(near[0]!).toBeGreaterThan(0);
    expect(near[1]!).toBeGreaterThan(near[0]!);
    expect(near[2]!).toBeGreaterThan(near[1]!);
    expect(energyOf(ring(1.2))).toBe(Infinity);
  });

  it("has the gradient that differences have", () => {
    const map = ring(1.105);
    const out = kernels.put(new Float64Array(map.length));
    energyOf(map);
    barrier.addGradient(out);
    const gradient = kernels.f64(out, map.length).slice();
    const h = 1e-7;
    const size = Math.max(...gradient.map(Math.abs));
    expect(size).toBeGreaterThan(0);
    for (let i = 0; i < map.length; i++) {
      const slope = (energyOf(map.with(i, map[i]! + h)) - energyOf(map.with(i, map[i]! - h))) / (2 * h);
      expect(Math.abs(gradient[i]! - slope)).toBeLessThan(1e-4 * size);
    }
  });
});
