import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { ShellMesh } from "./shell-mesh";
import { firstTwins } from "./twins";

const shellOf = (positions: ArrayLike<number>, triangles: readonly number[] = [0, 1, 2, 0, 2, 3]): ShellMesh => ({
  positions: Float64Array.from(positions),
  triangles: Uint32Array.from(triangles),
  wedges: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i),
});
const leaf = shellOf([0, 0, 0, 1, 0, 0.2, 1, 1, 0, 0, 1, 0.3]);
const Length = fc.double({ min: -9, max: 9, noNaN: true });

describe("twins among shells", () => {
  it("are those of the same triangles and lengths, wherever they stand and however they are turned", () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(Length, Length, Length, Length), { minLength: 1, maxLength: 5 }), (ways) => {
        const moved = ways.map(([angle, x, y, z]) => {
          const [c, s] = [Math.cos(angle), Math.sin(angle)];
          const p = leaf.positions;
          return shellOf(
            [0, 3, 6, 9].flatMap((k) => [c * p[k]! - s * p[k + 1]! + x, s * p[k]! + c * p[k + 1]! + y, p[k + 2]! + z]),
          );
        });
        expect([...firstTwins([leaf, ...moved])]).toEqual(Array(ways.length + 1).fill(0));
      }),
    );
  });

  it("are not those of other lengths, of other triangles, or whose faces weigh otherwise", () => {
    const longer = shellOf(leaf.positions.map((x, i) => (i === 3 ? x + 1e-3 : x)));
    const other = shellOf(leaf.positions, [0, 1, 3, 1, 2, 3]);
    const larger = shellOf(leaf.positions.map((x) => 2 * x));
    const heavy = { ...leaf, weights: Float64Array.of(1, 2) };
    expect([...firstTwins([leaf, longer, other, larger, heavy, leaf, longer])]).toEqual([0, 1, 2, 3, 4, 0, 1]);
    expect([...firstTwins([])]).toEqual([]);
  });
});
