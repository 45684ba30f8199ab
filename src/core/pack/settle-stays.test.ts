import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { at, box } from "../../testing/packing";
import { Kernels } from "../kernels/kernels";
import type { Page } from "./page";
import type { Item } from "./raster";
import { besideStaying, StayingShape, unseenBetween } from "./settle-stays";

const page: Page = { u0: 2, v0: -1, w: 1, h: 0.5, texels: 1024 };
const boxAt = (u0: number, v0: number, w: number, h: number): Item => at(box(w, h), u0, v0);

describe("what stays on a page", () => {
  it("tells distances all over the page, in nodes of any size up to the largest", () => {
    const kernels = new Kernels(true);
    // One on the page, one that reaches into it from far away, one beyond it.
    const stays = [boxAt(2.25, -0.875, 0.25, 0.25), boxAt(2.75, -9, 40, 8.25), boxAt(0, 0, 1, 1)];
    const shape = new StayingShape(kernels, stays, page, 128);
    const record = kernels.take(80);
    for (const perUnit of [128, 64, 96]) {
      shape.write(record, perUnit, 12);
      const [raster, nx, ny] = kernels.i32(record, 3);
      const [ox, oy] = kernels.f32(record + 12, 2);
      const nodes = kernels.f32(raster!, nx! * ny!);
      const distanceAt = (u: number, v: number) =>
        nodes[Math.round((v - page.v0) * perUnit - oy!) * nx! + Math.round((u - page.u0) * perUnit - ox!)]!;
      expect(distanceAt(2.25, -0.75)).toBeCloseTo(0, 4);
      expect(distanceAt(2.25 + 4 / 64, -0.75)).toBeCloseTo((-4 / 64) * perUnit, 3);
      expect(distanceAt(2.75 - 4 / 64, -0.75)).toBeCloseTo((4 / 64) * perUnit, 3);
      expect(distanceAt(2.875, -0.875)).toBeLessThan(0);
      expect(distanceAt(2.0625, -0.5625)).toBeGreaterThan(12);
    }
  });

  it("may reach between two samples by as much as a circle of the padding does, or a corner", () => {
    expect(unseenBetween(2, 4)).toBeCloseTo(4 - Math.sqrt(15), 12);
    expect(unseenBetween(1, 0)).toBe(0.5);
    expect([0, 1, 4, 9, 100].map(besideStaying)).toEqual([1, 1, 2, 3, 4]);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 60, noNaN: true }), (padding) => {
        expect(unseenBetween(besideStaying(padding), padding)).toBeLessThanOrEqual(0.5);
      }),
    );
  });
});
