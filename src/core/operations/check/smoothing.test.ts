import { describe, expect, it } from "vitest";
import { pepperMill } from "../../../../demo/models/pepper-mill";
import { assetOf, edit, laidOut, laidOutModel, layoutAt, picking, quiet, shapeAt } from "../../../testing/assets";
import { measure } from "../../check/measure";
import { checkAsset } from "../../formats/asset-json";
import { layoutFromCorners } from "../../layout/layout";
import { meshFromPolygons } from "../../mesh/poly-mesh";
import { runEdit, runSelect } from "../run";
import { everything } from "../scope";

/** A strip of squares bent over its middle edge, with its layout beside what it is told of. */
function strip(uv: ReadonlyArray<readonly [number, number]>) {
  const mesh = meshFromPolygons(
    [0, 1, 2].flatMap((i) => [0, 1].flatMap((j) => [i * (i < 2 ? 1 : 0.5), j, i === 2 ? 1 : 0])),
    [
      [0, 2, 3, 1],
      [2, 4, 5, 3],
    ],
  );
  return assetOf(mesh, layoutFromCorners(mesh, Float64Array.from([...mesh.cornerVertex].flatMap((v) => [...uv[v]!]))));
}
const even = strip([
  [0.1, 0.1],
  [0.1, 0.3],
  [0.3, 0.1],
  [0.3, 0.3],
  [0.5, 0.1],
  [0.5, 0.3],
]);

describe("smoothing by subdivision", () => {
  it("makes an asset that fits together, and tells the stretch before and after", async () => {
    const asset = await laidOutModel(pepperMill);
    const { asset: after, result } = await runEdit(asset, "subdivide", { levels: 1 }, everything(asset), quiet);
    checkAsset(after);
    const [before, now] = [measure(asset), measure(after)];
    expect(result.words).toBe(
      `Subdivide ${asset.parts.length} parts: stretch ${before.symmetricDirichlet!.toFixed(3)}, ${now.symmetricDirichlet!.toFixed(3)} when smoothed`,
    );
    expect(now.shells).toBe(before.shells);
    expect(now.faces).toBe([...asset.shapes.values()].reduce((sum, s) => sum + s.mesh.cornerVertex.length, 0));
  });

  it("refuses more faces than can be worked with, and what is no number of levels", async () => {
    const asset = pepperMill();
    await expect(edit(asset, "subdivide", { levels: 5 })).rejects.toThrow("at most 4");
    await expect(edit(asset, "subdivide", { levels: 1.5 })).rejects.toThrow("whole number");
  });
});

describe("unfolding for the smoothed form", () => {
  it("leaves less stretch when it is smoothed than unfolding the plain one does", async () => {
    const asset = await laidOutModel(pepperMill);
    const after = async (smoothed: number): Promise<number> => {
      const unfolded = await edit(asset, "unfold", { smoothed });
      return measure(await edit(unfolded, "subdivide", { levels: 2 })).symmetricDirichlet!;
    };
    const [plain, meant] = [await after(0), await after(2)];
    expect(meant - 1).toBeLessThan(0.7 * (plain - 1));
  });
});

describe("shells that are worse when smoothed", () => {
  it("are picked, with how they are worse; nothing is changed", async () => {
    const before = layoutAt(even).uv.slice();
    const { selection, words } = await runSelect(even, "pick-worse-smoothed", { more: 0 }, everything(even), quiet);
    expect(words).toMatch(/^Stretch 1\.\d{3}, 1\.\d{3} when smoothed; 1 shell worse: 1 stretched more\.$/);
    expect(selection.kind).toBe("shells");
    expect([...selection.items.get(shapeAt(even).id)!]).toEqual([0]);
    expect(layoutAt(even).uv).toEqual(before);
    const none = await runSelect(even, "pick-worse-smoothed", { more: 5 }, everything(even), quiet);
    expect(none.words).toContain("no shell is worse");
    expect(none.selection.items.size).toBe(0);
  });

  it("are told of where there is no layout, and only of the parts that are meant", async () => {
    const bare = pepperMill();
    const { words } = await runSelect(bare, "pick-worse-smoothed", {}, everything(bare), quiet);
    expect(words).toContain("Nothing has coordinates");
    const laid = await laidOut(bare);
    const one = { ...everything(laid), picked: [laid.parts[0]!.id] };
    const found = await runSelect(laid, "pick-worse-smoothed", { more: 0 }, one, quiet);
    for (const id of found.selection.items.keys()) expect(id).toBe(laid.parts[0]!.shape);
    expect(picking(laid, "faces", [0]).selection!.kind).toBe("faces");
  });
});
