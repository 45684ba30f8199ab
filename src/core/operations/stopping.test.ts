import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { squares } from "../../testing/squares";
import type { Asset } from "../layout/asset";
import { shellsAt } from "./place/shells-at";
import { everything } from "./scope";
import { Stopping } from "./stopping";

const PAD = 1 / 128;

/** Stops for the first of some squares. */
function first(asset: Asset): Stopping {
  const [own] = shellsAt(asset, everything(asset));
  const moving = [{ shape: own!.shape.id, uv: own!.layout.uv, wedges: own!.wedges }];
  return new Stopping(asset, everything(asset), moving, PAD);
}

describe("shells that are moved", () => {
  it("stop at a neighbour with the padding between them, and glide along it", () => {
    const stopping = first(
      squares([
        [0, 0, 0.25, 0.25],
        [0.5, 0, 0.25, 0.25],
      ]),
    );
    expect(stopping.apply({ du: 0.1, dv: 0 })).toEqual({ du: 0.1, dv: 0 });
    const { du, dv } = stopping.apply({ du: 0.4, dv: 0.125 });
    expect(du).toBeCloseTo(0.25 - PAD, 3);
    expect(dv).toBeCloseTo(0.125, 3);
    // Asked again it is the same, and dragged on it comes clear on the other side.
    expect(stopping.apply({ du: 0.4, dv: 0.125 })).toEqual({ du, dv });
    expect(stopping.apply({ du: 0.8, dv: 0 })).toEqual({ du: 0.8, dv: 0 });
  });

  it("go neither into a larger shell nor over a smaller one that lies clear of their borders", () => {
    const into = first(
      squares([
        [0, 0, 0.1, 0.1],
        [0.3, 0, 0.6, 0.6],
      ]),
    );
    expect(into.apply({ du: 0.5, dv: 0.2 }).du).toBeLessThan(0.21);
    const over = first(
      squares([
        [0, 0, 0.4, 0.4],
        [0.6, 0.1, 0.05, 0.05],
      ]),
    );
    expect(over.apply({ du: 0.4, dv: -0.1 }).du).toBeLessThan(0.21);
  });

  it("never come nearer than the padding, wherever they are dragged", () => {
    const asset = squares([
      [0, 0, 0.1, 0.1],
      [0.2, 0.05, 0.1, 0.3],
      [0.05, 0.3, 0.1, 0.1],
      [0.4, 0.4, 0.3, 0.1],
    ]);
    const [own, ...others] = shellsAt(asset, everything(asset)).map((s) => s.box);
    const step = fc.double({ min: -0.5, max: 0.8, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(step, step), { minLength: 1, maxLength: 8 }), (ways) => {
        const stopping = first(asset);
        for (const [u, v] of ways) {
          const { du, dv } = stopping.apply({ du: u, dv: v });
          for (const b of others) {
            const across = Math.max(own!.u0 + du - b.u1, b.u0 - own!.u1 - du, 0);
            const upright = Math.max(own!.v0 + dv - b.v1, b.v0 - own!.v1 - dv, 0);
            expect(Math.hypot(across, upright)).toBeGreaterThan(PAD - 1e-9);
          }
        }
      }),
      { numRuns: 40 },
    );
  });
});
