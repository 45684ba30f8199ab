import { describe, expect, it } from "vitest";
import { box, lathe } from "../../../demo/kit";
import { assetOf, edit, layoutAt, quiet, shapeAt } from "../../testing/assets";
import { meshOf } from "../../testing/seam-forms";
import type { Asset } from "../layout/asset";
import { placesOfBits } from "../layout/bits";
import { topologyOf } from "../mesh/topology";
import { faceNormals } from "../seams/edge-cost";
import { seenFaces } from "../tasks/seen-faces";

const can = (): Asset =>
  assetOf(
    meshOf(
      lathe(
        [
          [1, 0],
          [1, 1],
          [1, 2],
        ],
        24,
      ),
    ),
  );

/** The mean place of the seams that run up the wall, from the middle. */
function seamSide(asset: Asset): [number, number] {
  const { mesh } = shapeAt(asset);
  const { edgeVertices } = topologyOf(mesh);
  const p = mesh.positions;
  let [x, z, n] = [0, 0, 0];
  for (const e of placesOfBits(layoutAt(asset).cut)) {
    const [a, b] = [3 * edgeVertices[2 * e]!, 3 * edgeVertices[2 * e + 1]!];
    if (Math.abs(p[a + 1]! - p[b + 1]!) < 0.5) continue;
    x += p[a]!;
    z += p[a + 2]!;
    n++;
  }
  expect(n).toBeGreaterThan(0);
  return [x / n, z / n];
}

describe("marked views", () => {
  it("lead the seam of a turned body to the side that is not seen", async () => {
    for (const [x, z] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ] as const) {
      const marked = await edit(can(), "mark-view", { x, y: 0.2, z });
      const [sx, sz] = seamSide(await edit(marked, "turned"));
      expect(sx * x + sz * z).toBeLessThan(-0.7);
    }
  });

  it("count faces that are turned to them as seen, and those behind hardly", async () => {
    const crate = await edit(assetOf(meshOf(box([2, 2, 2]))), "mark-view", { x: 3, y: 0, z: 0 });
    expect(crate.views).toEqual([[1, 0, 0]]);
    const seen = (await seenFaces(crate, quiet, () => {})).get("p1")!;
    const { mesh } = shapeAt(crate);
    const normals = faceNormals(mesh, mesh.positions);
    const facing = (way: number) => [0, 1, 2, 3, 4, 5].find((f) => Math.round(normals[3 * f]!) === way)!;
    expect(seen[facing(1)]!).toBeGreaterThan(4 * seen[facing(-1)]!);
  });

  it("are forgotten at once, and from all round counts again", async () => {
    const marked = await edit(await edit(can(), "mark-view", { x: 1 }), "mark-view", { z: 1 });
    expect(marked.views).toHaveLength(2);
    const forgotten = await edit(marked, "forget-views");
    expect(forgotten.views).toEqual([]);
    const cuts = async (asset: Asset) => [...placesOfBits(layoutAt(await edit(asset, "turned")).cut)];
    expect(await cuts(forgotten)).toEqual(await cuts(can()));
    await expect(edit(forgotten, "forget-views")).rejects.toThrow("No view is marked");
    await expect(edit(can(), "mark-view")).rejects.toThrow("Say from where");
  });
});
