import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { edit, picking } from "../../testing/assets";
import { squares } from "../../testing/squares";
import type { Asset } from "../layout/asset";
import { RULES } from "../layout/rules";
import { DEFAULT_TILES } from "../layout/tiles";
import type { SheetBox } from "../place/box";
import { shellsAt } from "./place/shells-at";
import { Pushing } from "./pushing";
import { everything } from "./scope";

const PAD = RULES.padding / DEFAULT_TILES.resolution;

const pushing = (asset: Asset, mover = 0): Pushing => {
  const own = shellsAt(asset, everything(asset))[mover]!;
  return new Pushing(asset, everything(asset), [{ shape: own.shape.id, uv: own.layout.uv, wedges: own.wedges }]);
};
const boxes = (asset: Asset): SheetBox[] => shellsAt(asset, everything(asset)).map((s) => s.box);
const push = (asset: Asset, du: number, dv: number, mover = 0) =>
  edit(asset, "move", { du, dv, push: true }, picking(asset, "shells", [mover]));

describe("shells that push", () => {
  const row = () =>
    squares([
      [0, 0, 0.1, 0.1],
      [0.2, 0.05, 0.1, 0.1],
      [0.5, 0, 0.1, 0.1],
      [0.2, 0.5, 0.1, 0.1],
    ]);

  it("shove what lies before them, and that what lies before it, with the padding between", async () => {
    const after = boxes(await push(row(), 0.4, 0));
    expect(after[0]!.u0).toBeCloseTo(0.4, 12);
    expect(after[1]!.u0).toBeCloseTo(0.5 + PAD, 6);
    expect(after[2]!.u0).toBeCloseTo(0.6 + 2 * PAD, 6);
    // What lies beside the way stays.
    expect(after[3]).toEqual(boxes(row())[3]);
  });

  it("let go of what they pushed when they go back", () => {
    const work = pushing(row());
    expect(work.pushed({ du: 0.4, dv: 0 })).toBe(2);
    expect(work.pushed({ du: 0.05, dv: 0 })).toBe(0);
    expect(work.changes({ du: -0.2, dv: 0 }, "s1")).toHaveLength(1);
    expect(work.pushed({ du: -0.2, dv: 0 })).toBe(0);
  });

  it("slide past what lies just the padding apart, and leave what they lie on", async () => {
    const beside = squares([
      [0, 0, 0.1, 0.1],
      [0.05, 0.1 + PAD, 0.1, 0.1],
      [0.02, 0.02, 0.05, 0.05],
    ]);
    const after = boxes(await push(beside, 0.3, 0));
    expect(after.slice(1)).toEqual(boxes(beside).slice(1));
  });

  it("stop where something pinned is in the way, and push up to it", async () => {
    const asset = row();
    const pinned = await edit(asset, "pin", {}, picking(asset, "shells", [2]));
    const after = boxes(await push(pinned, 0.4, 0));
    // The pinned one takes no part in what can be moved: three are left.
    expect(after).toHaveLength(3);
    expect(after[1]!.u1).toBeCloseTo(0.5 - PAD, 6);
    expect(after[0]!.u1).toBeCloseTo(0.4 - 2 * PAD, 6);
  });

  it("never bring two nearer than the padding that were farther apart, whichever way they go", async () => {
    const size = fc.double({ min: 0.02, max: 0.12, noNaN: true });
    const way = fc.double({ min: -1, max: 1, noNaN: true });
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(size, size), { minLength: 9, maxLength: 9 }),
        way,
        way,
        async (list, du, dv) => {
          const asset = squares(list.map(([w, h], k) => [0.15 * (k % 3), 0.15 * Math.floor(k / 3), w, h]));
          const after = await push(asset, du, dv, 4);
          const { uv } = [...after.shapes.values()][0]!.layouts.get("s1")!;
          expect(uv.every(Number.isFinite)).toBe(true);
          const found = boxes(after);
          for (const [i, a] of found.entries())
            for (const b of found.slice(i + 1)) {
              const apart = Math.hypot(Math.max(0, a.u0 - b.u1, b.u0 - a.u1), Math.max(0, a.v0 - b.v1, b.v0 - a.v1));
              expect(apart).toBeGreaterThan(PAD * (1 - 1e-4));
            }
        },
      ),
      { numRuns: 60 },
    );
  });

  it("refuse to turn meanwhile", async () => {
    const asset = row();
    await expect(edit(asset, "move", { turn: 5, push: true }, picking(asset, "shells", [0]))).rejects.toThrow(
      /pushed by a move alone/,
    );
  });
});
