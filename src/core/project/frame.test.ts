import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { dot, frameAbout, pointedAlong, turnedFrame, turnsBetween, unit, type Vector } from "./frame";

const way = fc
  .tuple(
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
  )
  .filter(([x, y, z]) => Math.hypot(x, y, z) > 0.1)
  .map((a) => unit(a));
const degrees = fc.double({ min: -400, max: 400, noNaN: true });
const UP: Vector = [0, 1, 0];

const near = (a: Vector, b: Vector) => {
  for (const d of [0, 1, 2]) expect(a[d]).toBeCloseTo(b[d]!, 6);
};

describe("a frame", () => {
  it("has three axes at right angles, its own along the one that is given", () => {
    fc.assert(
      fc.property(way, (axis) => {
        const { x, y, z } = frameAbout(axis, UP, [0, 0, 0]);
        near(z, axis);
        for (const [a, b] of [
          [x, y],
          [y, z],
          [z, x],
        ] as const)
          expect(dot(a, b)).toBeCloseTo(0, 9);
        for (const a of [x, y, z]) expect(dot(a, a)).toBeCloseTo(1, 9);
      }),
    );
  });

  it("is led by the turns between two frames from one to the other", () => {
    fc.assert(
      fc.property(way, fc.tuple(degrees, degrees, degrees), (axis, turns) => {
        const from = frameAbout(axis, UP, [0, 0, 0]);
        const to = turnedFrame(from, turns);
        const led = turnedFrame(from, turnsBetween(from, to));
        near(led.x, to.x);
        near(led.y, to.y);
        near(led.z, to.z);
      }),
    );
  });

  it("is pointed along any way, and back", () => {
    fc.assert(
      fc.property(way, way, (axis, to) => {
        const frame = frameAbout(axis, UP, [0, 0, 0]);
        const pointed = pointedAlong(frame, to);
        near(pointed.z, to);
        expect(dot(pointed.x, pointed.z)).toBeCloseTo(0, 6);
        near(pointedAlong(pointed, axis).z, axis);
      }),
    );
    const upright = frameAbout(UP, UP, [0, 0, 0]);
    near(pointedAlong(upright, [0, -1, 0]).z, [0, -1, 0]);
  });
});
