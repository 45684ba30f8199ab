import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { assemble, box, lathe, type Shape } from "../../../demo/kit";
import { assetOf, edit, layoutAt, quiet, shapeAt } from "../../testing/assets";
import { ball, meshOf, plate, torus } from "../../testing/seam-forms";
import type { Asset } from "../layout/asset";
import { countBits, placesOfBits } from "../layout/bits";
import { facesOfShell, structureOf } from "../layout/layout";
import { UserError } from "../layout/user-error";
import type { Shell } from "../mesh/indices";
import { worldPositions } from "../mesh/transform";
import { formOf, shellMesh } from "../unfold/shell-mesh";
import { runEdit } from "./run";
import { everything } from "./scope";

const bare = (s: Shape) => assetOf(meshOf(s));
const structure = (asset: Asset) => structureOf(shapeAt(asset).mesh, layoutAt(asset));
/** Faces of every shell, the most first. */
const sizes = (asset: Asset) => {
  const s = structure(asset);
  return Array.from({ length: s.shellCount }, (_, k) => facesOfShell(s, k as Shell).length).sort((a, b) => b - a);
};
const areDisks = (asset: Asset) => {
  const { mesh, metric } = shapeAt(asset);
  const world = worldPositions(mesh, metric);
  return Array.from({ length: structure(asset).shellCount }, (_, k) =>
    formOf(shellMesh(mesh, world, layoutAt(asset), k as Shell)),
  ).every((form) => form.isDisk);
};

describe("styles of proposals", () => {
  it("by material and by group part faces at their borders and nowhere else", async () => {
    const cloth = plate(4, 2);
    const s = { ...cloth, material: cloth.faces.map((_, i) => (i % 4 < 2 ? 0 : 1)) };
    const [a, b] = [
      { name: "A", color: [1, 0, 0] as const },
      { name: "B", color: [0, 1, 0] as const },
    ];
    const asset = assemble("Cloth", "cm", [a, b] as never, [{ name: "Cloth", shape: s }]);
    const cut = await edit(asset, "by-material");
    expect(sizes(cut)).toEqual([4, 4]);
    expect(countBits(layoutAt(cut).cut)).toBe(2);
    await expect(edit(cut, "by-material")).rejects.toThrow("No two materials meet here");
    await expect(edit(asset, "by-group")).rejects.toThrow("No two groups of faces meet here");
    await expect(edit(asset, "by-normals")).rejects.toThrow("No edge here has normals that differ");
  });

  it("Dome gives a ball two caps of the rings asked for, and its body one seam", async () => {
    for (const rings of [1, 2, 3]) {
      const cut = await edit(bare(ball(12)), "dome", { rings });
      // 24 faces to a ring.
      expect(sizes(cut)).toEqual([24 * (12 - 2 * rings), 24 * rings, 24 * rings]);
      expect(areDisks(cut)).toBe(true);
      // Both rims, and a meridian between them.
      expect(countBits(layoutAt(cut).cut)).toBe(2 * 24 + (12 - 2 * rings));
    }
    await expect(edit(bare(ball(12)), "dome", { rings: 6 })).rejects.toThrow("take fewer");
    await expect(edit(bare(torus(12, 8)), "dome")).rejects.toThrow("None of these shells has a pole");
  });

  it("Panels cut along a groove once, and leave its walls and bottom with the panels beside it", async () => {
    // A board with a groove across it, 0.1 wide and deep, between two panels of 5 x 2.
    const across = [0, 1, 2];
    const line: Array<[number, number]> = [
      [0, 0],
      [5, 0],
      [5.05, -0.1],
      [5.1, 0],
      [10, 0],
    ];
    const points = across.flatMap((y) => line.map(([x, z]) => [x, y, z] as [number, number, number]));
    const faces: number[][] = [];
    for (let j = 0; j < 2; j++)
      for (let i = 0; i < 4; i++) faces.push([5 * j + i, 5 * j + i + 1, 5 * j + i + 6, 5 * j + i + 5]);
    const cut = await edit(bare({ points, faces, material: faces.map(() => 0) }), "panels");
    expect(sizes(cut)).toEqual([4, 4]);
    expect(countBits(layoutAt(cut).cut)).toBe(2);
    const { mesh } = shapeAt(cut);
    expect(placesOfBits(layoutAt(cut).cut)).toHaveLength(2);
    expect(mesh.faceStart).toHaveLength(9);
    await expect(edit(bare(plate(3, 3)), "panels")).rejects.toThrow("no groove of 25° or more, nor a rim");
  });

  it("Panels part the sides of a box at its rims, and open what could not lie flat", async () => {
    expect(sizes(await edit(bare(box([1, 1, 1])), "panels"))).toEqual([1, 1, 1, 1, 1, 1]);
    const can = lathe(
      [
        [1, 0],
        [1, 2],
      ],
      12,
    );
    const cut = await edit(bare(can), "panels");
    expect(areDisks(cut)).toBe(true);
    expect(sizes(cut)).toEqual([12, 1, 1]);
  });

  it("Rounded leaves disks that lie flat within the limit, and follows no crease", async () => {
    const cut = await edit(bare(ball(10)), "rounded", { limit: 1.1 });
    expect(areDisks(cut)).toBe(true);
    await expect(edit(cut, "rounded", { limit: 1.1 })).rejects.toThrow("lie flat within that limit");
    // A box as a draft in that style lies in fewer pieces than sides.
    const crate = await edit(bare(box([1, 1, 1], [3, 3, 3])), "rounded", { limit: 1.2 });
    expect(structure(crate).shellCount).toBeLessThan(6);
    expect(areDisks(crate)).toBe(true);
  });

  it("leave only disks, whatever the form, where they are to lie flat at once", async () => {
    const profile = fc.array(
      fc.tuple(fc.double({ min: 0.4, max: 2, noNaN: true }), fc.double({ min: 0.2, max: 1, noNaN: true })),
      {
        minLength: 2,
        maxLength: 5,
      },
    );
    const turnedForm = fc.tuple(profile, fc.integer({ min: 6, max: 14 })).map(([list, n]) => {
      const heights = list.map((_, i) => list.slice(0, i + 1).reduce((sum, [, step]) => sum + step, 0));
      return lathe(
        list.map(([r], i): [number, number] => [r, heights[i]!]),
        n,
      );
    });
    const side = fc.integer({ min: 1, max: 3 });
    const boxForm = fc.tuple(side, side, side).map((n) => box([2, 1, 3], n));
    const ringForm = fc
      .tuple(fc.integer({ min: 6, max: 12 }), fc.integer({ min: 4, max: 8 }))
      .map(([n, m]) => torus(n, m));
    const ballForm = fc.integer({ min: 4, max: 9 }).map(ball);
    const styles = fc.constantFrom("open-up", "rounded", "turned", "panels", "dome");
    let made = 0;
    await fc.assert(
      fc.asyncProperty(fc.oneof(turnedForm, boxForm, ringForm, ballForm), styles, async (form, style) => {
        try {
          const cut = await edit(bare(form), style);
          expect(areDisks(cut), style).toBe(true);
          made++;
        } catch (error) {
          if (!(error instanceof UserError)) throw error;
        }
      }),
      { numRuns: 40 },
    );
    expect(made).toBeGreaterThan(10);
  }, 60_000);

  it("of Draft are what is asked for: a can is turned by its form, and cut at its creases where it is to be", async () => {
    const can = bare(
      lathe(
        [
          [1, 0],
          [1, 1],
          [1, 2],
        ],
        12,
      ),
    );
    for (const style of ["by its form", "creased", "rounded"]) {
      const options = { style, fill: "few seams" };
      const { asset: laid, result } = await runEdit(can, "draft", options, everything(can), quiet);
      expect(areDisks(laid), style).toBe(true);
      // Told in words, so that one sees which part to draft again in another style.
      expect(result.words).toMatch(new RegExp(`; ${style === "by its form" ? "turned" : style} Part$`));
    }
  });
});
