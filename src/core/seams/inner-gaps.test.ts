import { describe, expect, it } from "vitest";
import { assetOf, edit, layoutAt, picking, quiet, shapeAt } from "../../testing/assets";
import { meshOf, plate } from "../../testing/seam-forms";
import type { Asset } from "../layout/asset";
import { topologyOf } from "../mesh/topology";
import { runSelect } from "../operations/run";
import { everything } from "../operations/scope";

const gaps = async (asset: Asset) => [
  ...((await runSelect(asset, "pick-inner-gaps", {}, everything(asset), quiet)).selection.items.get("p1") ?? []),
];

/** Edges of a mesh by both ends, x and y. */
function edgesAt(asset: Asset, ...pairs: Array<[[number, number], [number, number]]>): number[] {
  const { mesh } = shapeAt(asset);
  const t = topologyOf(mesh);
  const is = (v: number, [x, y]: [number, number]) => mesh.positions[3 * v] === x && mesh.positions[3 * v + 1] === y;
  return pairs.map(([p, q]) => {
    const found = [...Array(t.edgeCount).keys()].find((e) => {
      const [a, b] = [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!];
      return (is(a, p) && is(b, q)) || (is(a, q) && is(b, p));
    });
    return found!;
  });
}

describe("gaps within shells", () => {
  it("are none in a whole one, and none where two shells meet", async () => {
    const laid = await edit(assetOf(meshOf(plate(4, 4))), "unfold");
    expect(await gaps(laid)).toEqual([]);
    const line = edgesAt(
      laid,
      ...[0, 1, 2, 3].map((y): [[number, number], [number, number]] => [
        [2, y],
        [2, y + 1],
      ]),
    );
    expect(await gaps(await edit(laid, "cut", {}, picking(laid, "edges", line)))).toEqual([]);
  });

  it("are seams that were left inside a shell, with or without the border", async () => {
    const laid = await edit(assetOf(meshOf(plate(4, 4))), "unfold");
    const slit = edgesAt(
      laid,
      [
        [1, 2],
        [2, 2],
      ],
      [
        [2, 2],
        [3, 2],
      ],
    );
    expect(await gaps(await edit(laid, "cut", {}, picking(laid, "edges", slit)))).toEqual(slit.sort((a, b) => a - b));
    const [notch] = edgesAt(laid, [
      [0, 1],
      [1, 1],
    ]);
    const cut = await edit(laid, "cut", {}, picking(laid, "edges", [notch!]));
    expect(await gaps(cut)).toEqual([notch]);
    expect(layoutAt(cut).uv.length).toBeGreaterThan(layoutAt(laid).uv.length);
  });

  it("are the edges round a hole, however it lies", async () => {
    const s = plate(4, 4);
    // Without one of the squares in the middle.
    const faces = s.faces.filter((_, i) => i !== 5);
    const laid = await edit(assetOf(meshOf({ ...s, faces, material: faces.map(() => 0) })), "unfold");
    const round = edgesAt(
      laid,
      [
        [1, 1],
        [2, 1],
      ],
      [
        [2, 1],
        [2, 2],
      ],
      [
        [1, 2],
        [2, 2],
      ],
      [
        [1, 1],
        [1, 2],
      ],
    );
    expect(await gaps(laid)).toEqual(round.sort((a, b) => a - b));
  });
});
