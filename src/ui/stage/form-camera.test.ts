import fc from "fast-check";
import { Vector3 } from "three";
import { describe, expect, it } from "vitest";
import { pepperMill } from "../../../demo/models/pepper-mill";
import { AXIS_SIDES } from "../session/store";
import { boundsOf, somePoints } from "./bounds";
import { FormCamera } from "./form-camera";

const mill = pepperMill();
const whole = boundsOf(mill);
const points = somePoints(mill, new Set());

/** An eye on the mill in a pane of some size. */
function eyeOn(width = 376, height = 676): FormCamera {
  const eye = new FormCamera(() => {});
  eye.setSize(width, height);
  eye.frame(whole, whole, mill.up, points);
  return eye;
}

/** How much of the pane the mill takes across and up, and how far it reaches from the middle at most; 1 is all of it. */
function room({ camera }: FormCamera) {
  camera.updateMatrixWorld();
  const p = new Vector3();
  const [low, high] = [
    [Infinity, Infinity],
    [-Infinity, -Infinity],
  ];
  for (let i = 0; i < points.length; i += 3) {
    p.fromArray(points, i).project(camera);
    for (const [d, x] of [p.x, p.y].entries()) {
      low[d] = Math.min(low[d]!, x);
      high[d] = Math.max(high[d]!, x);
    }
  }
  const reach = Math.max(...low.map((x) => -x), ...high);
  return { across: (high[0]! - low[0]!) / 2, up: (high[1]! - low[1]!) / 2, reach };
}

describe("the eye on the form", () => {
  it("fills the pane with what is framed, in panes of any form, and nothing lies outside", () => {
    fc.assert(
      fc.property(fc.integer({ min: 200, max: 2000 }), fc.integer({ min: 200, max: 1200 }), (width, height) => {
        const { across, up, reach } = room(eyeOn(width, height));
        expect(Math.max(across, up)).toBeGreaterThan(0.72);
        expect(reach).toBeLessThan(0.86);
      }),
      { numRuns: 30 },
    );
  });

  it("shows as much in parallel as in perspective, and comes back to where it was", () => {
    const eye = eyeOn();
    const before = { ...room(eye), at: eye.camera.position.clone() };
    eye.setParallel(true);
    expect(room(eye).up).toBeCloseTo(before.up, 1);
    eye.setParallel(false);
    expect(eye.camera.position.distanceTo(before.at)).toBeLessThan(1e-9 * before.at.length());
    expect(room(eye).across).toBeCloseTo(before.across, 9);
  });

  it("looks along an axis from every side, at the same place", () => {
    for (const parallel of [false, true]) {
      const eye = eyeOn();
      eye.setParallel(parallel);
      const seen = AXIS_SIDES.map((side) => {
        eye.lookFrom(side);
        const way = eye.camera.getWorldDirection(new Vector3());
        return way.toArray().map((x) => Math.round(x) + 0);
      });
      expect(seen).toEqual([
        [0, 0, -1],
        [0, 0, 1],
        [1, 0, 0],
        [-1, 0, 0],
        [0, -1, 0],
        [0, 1, 0],
      ]);
      expect(room(eye).reach).toBeLessThan(1.2);
    }
  });

  it("may be let go of though it never had a pane", () => {
    expect(() => new FormCamera(() => {}).dispose()).not.toThrow();
  });
});
