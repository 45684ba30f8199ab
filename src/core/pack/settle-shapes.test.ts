import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Kernels } from "../kernels/kernels";
import type { Item } from "./raster";
import { ON_EDGES, settleShape } from "./settle-shapes";

const BAND = 12;
const HOW = { mirrored: false, perUnit: 1, band: BAND, apart: ON_EDGES };

/** A closed outline with a fan of triangles about its middle. */
function star(radii: readonly number[]): Item {
  const rim = radii.map((r, i): [number, number] => {
    const t = (2 * Math.PI * i) / radii.length;
    return [r * Math.cos(t), r * Math.sin(t)];
  });
  const next = (i: number) => rim[(i + 1) % rim.length]!;
  return {
    triangles: Float64Array.from(rim.flatMap((p, i) => [0, 0, ...p, ...next(i)])),
    outline: Float64Array.from(rim.flatMap((p, i) => [...p, ...next(i)])),
  };
}

/** How far a point is from an outline, without a sign. */
function distance({ outline: o }: Item, x: number, y: number): number {
  let least = Infinity;
  for (let i = 0; i < o.length; i += 4) {
    const [dx, dy] = [o[i + 2]! - o[i]!, o[i + 3]! - o[i + 1]!];
    const t = Math.max(0, Math.min(1, ((x - o[i]!) * dx + (y - o[i + 1]!) * dy) / (dx * dx + dy * dy)));
    least = Math.min(least, Math.hypot(o[i]! + t * dx - x, o[i + 1]! + t * dy - y));
  }
  return least;
}

/** Whether a point is within the star, told by its angle. */
function within({ outline: o }: Item, x: number, y: number): boolean {
  let inside = false;
  for (let i = 0; i < o.length; i += 4)
    if (
      o[i + 1]! > y !== o[i + 3]! > y &&
      x < o[i]! + ((y - o[i + 1]!) / (o[i + 3]! - o[i + 1]!)) * (o[i + 2]! - o[i]!)
    )
      inside = !inside;
  return inside;
}

describe.each([true, false])("distances from a shell, with SIMD: %s", (simd) => {
  it("are exact in a band about its outline, negative within, and grow beyond it", () => {
    const radii = fc.array(fc.double({ min: 15, max: 40, noNaN: true }), { minLength: 4, maxLength: 9 });
    fc.assert(
      fc.property(radii, fc.boolean(), (list, mirrored) => {
        const kernels = new Kernels(simd);
        const item = star(list);
        const { record, u, v } = settleShape(kernels, item, { ...HOW, mirrored }, () => 0.5);
        const [raster, nx, ny] = new Int32Array(record.buffer);
        const [ox, oy] = new Float32Array(record.buffer).subarray(3);
        const nodes = kernels.f32(raster!, nx! * ny!);
        for (let j = 0; j < ny!; j += 3)
          for (let i = 0; i < nx!; i += 3) {
            const [x, y] = [(mirrored ? -1 : 1) * (ox! + i) + u, oy! + j + v];
            const [told, far] = [nodes[j * nx! + i]!, distance(item, x, y)];
            if (far < 1e-3) continue;
            expect(told < 0).toBe(within(item, x, y));
            if (far < BAND) expect(Math.abs(told)).toBeCloseTo(far, 2);
            else expect(Math.abs(told)).toBeGreaterThan(BAND - 0.01);
          }
      }),
      { numRuns: 15 },
    );
  });

  it("come with every corner of the outline as a sample", () => {
    const kernels = new Kernels(simd);
    const item = star([20, 35, 18, 30, 25]);
    const { record, u, v } = settleShape(kernels, item, HOW, () => 0.5);
    const [samples, count] = new Int32Array(record.buffer).subarray(5);
    const list = kernels.f32(samples!, 2 * count!);
    for (let i = 0; i < item.outline.length; i += 2) {
      let nearest = Infinity;
      for (let k = 0; k < list.length; k += 2)
        nearest = Math.min(
          nearest,
          Math.hypot(list[k]! - item.outline[i]! + u, list[k + 1]! - item.outline[i + 1]! + v),
        );
      expect(nearest).toBeLessThan(1e-4);
    }
    const denser = settleShape(kernels, item, { ...HOW, apart: 1 }, () => 0.5);
    const more = new Int32Array(denser.record.buffer)[6]!;
    expect(more / count!).toBeGreaterThan(2);
  });
});

it("distances are the same to the last bit with SIMD and without", () => {
  const radii = fc.array(fc.double({ min: 3, max: 40, noNaN: true }), { minLength: 3, maxLength: 12 });
  fc.assert(
    fc.property(radii, fc.double({ min: 2, max: 14, noNaN: true }), (list, band) => {
      const [one, other] = [true, false].map((simd) => {
        const kernels = new Kernels(simd);
        const { record } = settleShape(kernels, star(list), { ...HOW, band }, () => 0.5);
        const [raster, nx, ny] = new Int32Array(record.buffer);
        return kernels.i32(raster!, nx! * ny!).slice();
      });
      expect(one).toEqual(other);
    }),
    { numRuns: 40 },
  );
});
