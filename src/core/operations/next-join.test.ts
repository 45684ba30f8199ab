import { describe, expect, it } from "vitest";
import { box } from "../../../demo/kit";
import { assetOf, edit, layoutAt, picking, quiet, shapeAt } from "../../testing/assets";
import { meshOf, plate } from "../../testing/seam-forms";
import { measure } from "../check/measure";
import type { Asset } from "../layout/asset";
import { structureOf } from "../layout/layout";
import { UserError } from "../layout/user-error";
import { topologyOf } from "../mesh/topology";
import { runSelect } from "./run";
import { everything } from "./scope";

const shells = (asset: Asset) => structureOf(shapeAt(asset).mesh, layoutAt(asset)).shellCount;
const next = (asset: Asset, options: object = {}) => runSelect(asset, "next-join", options, everything(asset), quiet);
const edgesOf = async (asset: Asset, options: object = {}) => [
  ...(await next(asset, options)).selection.items.get(shapeAt(asset).id)!,
];

/** A plate of 6 x 4 squares cut into strips of 1, 2 and 3 columns. */
async function strips(): Promise<Asset> {
  const asset = assetOf(meshOf(plate(6, 4)));
  const { mesh } = shapeAt(asset);
  const t = topologyOf(mesh);
  const at = (x: number) => (v: number) => mesh.positions[3 * v]! === x;
  const edges = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) =>
    [1, 3].some((x) => at(x)(t.edgeVertices[2 * e]!) && at(x)(t.edgeVertices[2 * e + 1]!)),
  );
  return edit(await edit(asset, "cut", {}, picking(asset, "edges", edges)), "unfold");
}

describe("joins one by one", () => {
  it("put a plate that was cut up together again, and end when nothing is left", async () => {
    let asset = await strips();
    let steps = 0;
    for (;;) {
      try {
        const { selection, words } = await next(asset);
        expect(words).toMatch(/^Shells \d and \d of Part: stretch 1\.000 once they are joined\.$/);
        asset = await edit(asset, "join", {}, { ...everything(asset), selection });
        steps++;
      } catch (error) {
        if (!(error instanceof UserError)) throw error;
        expect(error.message).toBe("No border can be joined within that limit of stretch.");
        break;
      }
    }
    expect(steps).toBe(2);
    expect(shells(asset)).toBe(1);
    expect(measure(asset)).toMatchObject({ flippedTriangles: 0, overlapShare: 0 });
  });

  it("propose another border in place of one that is skipped or locked", async () => {
    const asset = await strips();
    const first = await edgesOf(asset);
    const second = await edgesOf(asset, { skip: `p1:${first[0]}` });
    expect(second).not.toEqual(first);
    await expect(next(asset, { skip: `p1:${first[0]} p1:${second[0]}` })).rejects.toThrow("No other border");
    const locked = await edit(asset, "lock-seams", {}, picking(asset, "edges", first));
    expect(await edgesOf(locked)).toEqual(second);
  });

  it("take the longest border that lies flat within the limit, and keep materials apart where asked to", async () => {
    // Sides of 3 x 2, 3 x 1 and 2 x 1: the longest borders are 3 long.
    const crate = await edit(await edit(assetOf(meshOf(box([3, 2, 1]))), "creased"), "unfold");
    const [edge] = await edgesOf(crate);
    const { mesh } = shapeAt(crate);
    const { edgeVertices } = topologyOf(mesh);
    const [a, b] = [3 * edgeVertices[2 * edge!]!, 3 * edgeVertices[2 * edge! + 1]!];
    expect(Math.abs(mesh.positions[a]! - mesh.positions[b]!)).toBe(3);
    await expect(next(crate, { apart: "creases" })).rejects.toThrow("No border can be joined");
  });
});
