import { describe, expect, it } from "vitest";
import { box } from "../../../demo/kit";
import { assetOf, edit, layoutAt, picking, shapeAt } from "../../testing/assets";
import { meshOf, plate } from "../../testing/seam-forms";
import { placesOfBits } from "../layout/bits";
import { topologyOf } from "../mesh/topology";
import { mateKnots } from "./mate-knots";

describe("knots of mates", () => {
  it("stand halfway along each run of seam, on both of its sides", async () => {
    const laid = await edit(assetOf(meshOf(plate(4, 3))), "unfold");
    const { mesh } = shapeAt(laid);
    // The line across at x = 2, from border to border.
    const { mesh: same, layouts } = (
      await edit(
        laid,
        "cut",
        {},
        {
          set: "s1",
          parts: ["p1"],
          selection: { kind: "edges", items: new Map([["p1", lineAt(mesh, 2)]]) },
        },
      )
    ).shapes.get("p1")!;
    const layout = layouts.get("s1")!;
    const knots = mateKnots(same, layout, placesOfBits(layout.cut));
    expect(knots).toHaveLength(1);
    // What is cut has not moved: both sides lie in one place, at the middle edge.
    expect(knots[0]!.a).toEqual(knots[0]!.b);
    const [, moved] = [knots, layout.uv.map((x) => x + 1)];
    expect(mateKnots(same, layout, placesOfBits(layout.cut), { uv: moved })[0]!.a[0]).toBeCloseTo(
      knots[0]!.a[0] + 1,
      12,
    );
  });

  it("are one for every pair of shells, and none for edges that are no seams", async () => {
    const laid = await edit(await edit(assetOf(meshOf(box([3, 2, 1]))), "creased"), "unfold");
    const { mesh } = shapeAt(laid);
    expect(mateKnots(mesh, layoutAt(laid), placesOfBits(layoutAt(laid).cut))).toHaveLength(12);
    // A shell twice as dense has twice the texels along its seams, whichever side is told first.
    const level = await edit(laid, "level");
    const dense = await edit(level, "density-ratio", { ratio: 2 }, picking(level, "shells", [0]));
    const ratios = mateKnots(mesh, layoutAt(dense), placesOfBits(layoutAt(dense).cut)).map(({ ratio }) =>
      Number(Math.max(ratio, 1 / ratio).toFixed(6)),
    );
    expect(ratios.sort((a, b) => a - b)).toEqual([1, 1, 1, 1, 1, 1, 1, 1, 2, 2, 2, 2]);
    const closed = await edit(laid, "clear-set");
    expect(closed.shapes.get("p1")!.layouts.get("s1")).toBeUndefined();
  });
});

function lineAt(mesh: ReturnType<typeof meshOf>, x: number): Uint32Array {
  const out: number[] = [];
  const { edgeVertices, edgeCount } = topologyOf(mesh);
  for (let e = 0; e < edgeCount; e++)
    if ([0, 1].every((k) => mesh.positions[3 * edgeVertices[2 * e + k]!]! === x)) out.push(e);
  return Uint32Array.from(out);
}
