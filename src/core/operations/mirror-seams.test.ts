import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box } from "../../../demo/kit";
import { assetOf, edit, layoutAt, picking, shapeAt } from "../../testing/assets";
import { meshOf } from "../../testing/seam-forms";
import { measure } from "../check/measure";
import type { Asset } from "../layout/asset";
import { getBit, placesOfBits } from "../layout/bits";
import { structureOf } from "../layout/layout";
import { topologyOf } from "../mesh/topology";

/** A chest whose two halves, of 2 x 2 x 2 squares each, mirror across x. */
const chest = (): Asset => assetOf(meshOf(box([4, 2, 2], [4, 2, 2])));
const seams = (asset: Asset) => [...placesOfBits(layoutAt(asset).cut)];

/** Seams that lie on one side of the middle, or on it. */
function onSide(asset: Asset, side: 1 | -1 | 0): number[] {
  const { mesh } = shapeAt(asset);
  const { edgeVertices } = topologyOf(mesh);
  const x = (e: number) => mesh.positions[3 * edgeVertices[2 * e]!]! + mesh.positions[3 * edgeVertices[2 * e + 1]!]!;
  const middle =
    2 * Math.max(...mesh.positions.filter((_, i) => i % 3 === 0)) +
    2 * Math.min(...mesh.positions.filter((_, i) => i % 3 === 0));
  return seams(asset).filter((e) => Math.sign(Math.round(1e6 * (x(e) - middle / 2))) === side);
}

const cutSome = (asset: Asset, numbers: readonly number[]) =>
  edit(
    asset,
    "cut",
    {},
    picking(asset, "edges", new Set(numbers.map((n) => n % topologyOf(shapeAt(asset).mesh).edgeCount))),
  );
const some = fc.array(fc.nat(10_000), { minLength: 1, maxLength: 12 });
const mirror = async (asset: Asset, from: "positive" | "negative") =>
  edit(asset, "mirror-seams", { from }).catch((error: Error) => {
    if (/the same seams already/.test(error.message)) return asset;
    throw error;
  });

describe("mirrored seams", () => {
  it("are as many on both halves, and those of the first half stay as they are", async () => {
    await fc.assert(
      fc.asyncProperty(some, async (numbers) => {
        const before = await cutSome(chest(), numbers);
        const after = await mirror(before, "positive");
        expect(onSide(after, 1)).toEqual(onSide(before, 1));
        expect(onSide(after, 0)).toEqual(onSide(before, 0));
        expect(onSide(after, -1)).toHaveLength(onSide(before, 1).length);
      }),
      { numRuns: 40 },
    );
  });

  it("mirrored twice are the same: onto the other half, and back again", async () => {
    await fc.assert(
      fc.asyncProperty(some, async (numbers) => {
        const once = await mirror(await cutSome(chest(), numbers), "positive");
        expect(seams(await mirror(once, "positive"))).toEqual(seams(once));
        expect(seams(await mirror(once, "negative"))).toEqual(seams(once));
      }),
      { numRuns: 40 },
    );
  });

  it("join what is seam on the other half alone, and shells stay whole and flat", async () => {
    const laid = await edit(await edit(chest(), "creased"), "unfold");
    const [extra] = onSide(laid, -1);
    const opened = await edit(laid, "join", {}, picking(laid, "edges", [extra!]));
    expect(getBit(layoutAt(opened).cut, extra!)).toBe(false);
    const again = await edit(opened, "mirror-seams", { from: "positive" });
    expect(seams(again)).toEqual(seams(laid));
    const joined = await edit(opened, "mirror-seams", { from: "negative" });
    expect(seams(joined)).toHaveLength(seams(laid).length - 2);
    expect(structureOf(shapeAt(joined).mesh, layoutAt(joined)).shellCount).toBeLessThan(6);
    expect(measure(joined)).toMatchObject({ flippedTriangles: 0, cornersWithoutUv: 0 });
  });

  it("are refused where there is no other half", async () => {
    const lone = assetOf(
      meshOf({
        points: [
          [0, 0, 0],
          [3, 0, 0],
          [1, 2, 0],
        ],
        faces: [[0, 1, 2]],
        material: [0],
      }),
    );
    await expect(edit(lone, "mirror-seams")).rejects.toThrow("Nothing here has another half across x.");
    await expect(edit(lone, "centre-line")).rejects.toThrow("No part here has a line of edges between two halves");
  });
});

describe("the centre line", () => {
  it("parts a closed form into two like halves all round, and on hidden sides leaves them hinged", async () => {
    const halves = await edit(chest(), "centre-line", { where: "all round" });
    const s = structureOf(shapeAt(halves).mesh, layoutAt(halves));
    expect(s.shellCount).toBe(2);
    expect(s.shellStart[1]).toBe(s.faceShell.length / 2);
    // 2 squares up, along, down and back.
    expect(seams(halves)).toHaveLength(8);
    const hinged = await edit(chest(), "centre-line");
    expect(structureOf(shapeAt(hinged).mesh, layoutAt(hinged)).shellCount).toBe(1);
    expect(seams(hinged).length).toBeGreaterThan(0);
    expect(seams(hinged).every((e) => seams(halves).includes(e))).toBe(true);
  });
});
