import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { meshFromPolygons, type PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { getBit, makeBits, setBit } from "./bits";
import { carryLayout } from "./carry";
import { type Layout, layoutFromCorners, structureOf, withBits } from "./layout";

/** A strip of squares, each with its corners in this order, laid as it lies; faces in the order given. */
function strip(order: readonly number[], turns: readonly number[]): { mesh: PolyMesh; corner: Int32Array } {
  const count = order.length;
  const positions = Array.from({ length: count + 1 }, (_, x) => [x, 0, 0, x, 1, 0]).flat();
  const corner: number[] = [];
  const faces = order.map((f) => {
    const square = [2 * f, 2 * f + 2, 2 * f + 3, 2 * f + 1];
    return square.map((_, k) => {
      const from = (k + turns[f]!) % 4;
      corner.push(4 * f + from);
      return square[from]!;
    });
  });
  return { mesh: meshFromPolygons(positions, faces), corner: Int32Array.from(corner) };
}

/** The squares as they lie, some seams cut though their points meet, some points pinned, some faces without coordinates. */
function laid(mesh: PolyMesh, cuts: readonly number[], bare: readonly number[]): Layout {
  const cornerUv = new Float64Array(2 * mesh.cornerVertex.length);
  mesh.cornerVertex.forEach((v, c) => {
    const isBare = bare.includes(Math.floor(c / 4));
    cornerUv[2 * c] = isBare ? Number.NaN : mesh.positions[3 * v]! / 10;
    cornerUv[2 * c + 1] = isBare ? Number.NaN : mesh.positions[3 * v + 1]! / 10;
  });
  const layout = layoutFromCorners(mesh, cornerUv);
  const t = topologyOf(mesh);
  const cut = layout.cut.slice();
  for (let e = 0; e < t.edgeCount; e++)
    if (t.edgeVertices[2 * e]! % 2 !== t.edgeVertices[2 * e + 1]! % 2 && cuts.includes(t.edgeVertices[2 * e]! >> 1))
      if (t.edgeCornerStart[e + 1]! - t.edgeCornerStart[e]! === 2) setBit(cut, e);
  const cutOpen = withBits(mesh, layout, cut);
  const pinned = makeBits(structureOf(mesh, cutOpen).wedgeCount);
  setBit(pinned, 1);
  return { ...cutOpen, pinned };
}

describe("a layout carried to another mesh", () => {
  it("is the same at every corner, with its seams, pins and bare faces, whatever the order of faces and corners", () => {
    const count = 6;
    fc.assert(
      fc.property(
        fc.shuffledSubarray([0, 1, 2, 3, 4, 5], { minLength: count }),
        fc.array(fc.nat(3), { minLength: count, maxLength: count }),
        fc.subarray([1, 2, 3, 4, 5]),
        fc.subarray([2, 5]),
        (order, turns, cuts, bare) => {
          const from = strip([0, 1, 2, 3, 4, 5], new Array<number>(count).fill(0)).mesh;
          const layout = laid(from, cuts, bare);
          const { mesh, corner } = strip(order, turns);
          const carried = carryLayout(from, layout, mesh, corner);
          const [was, now] = [structureOf(from, layout), structureOf(mesh, carried)];
          expect([now.shellCount, now.wedgeCount]).toEqual([was.shellCount, was.wedgeCount]);
          corner.forEach((old, c) => {
            const [w, v] = [was.cornerWedge[old]!, now.cornerWedge[c]!];
            expect(getBit(carried.mapped, c >> 2)).toBe(getBit(layout.mapped, old >> 2));
            expect(getBit(carried.pinned, v)).toBe(getBit(layout.pinned, w));
            if (getBit(carried.mapped, c >> 2))
              expect([carried.uv[2 * v], carried.uv[2 * v + 1]]).toEqual([layout.uv[2 * w], layout.uv[2 * w + 1]]);
          });
        },
      ),
    );
  });

  it("has no coordinates where a face comes from nowhere", () => {
    const { mesh, corner } = strip([0, 1, 2], [0, 0, 0]);
    const layout = laid(mesh, [], []);
    const carried = carryLayout(
      mesh,
      layout,
      mesh,
      corner.map((c) => (c >> 2 === 1 ? -1 : c)),
    );
    expect([0, 1, 2].map((f) => getBit(carried.mapped, f))).toEqual([true, false, true]);
    expect(structureOf(mesh, carried).shellCount).toBe(3);
  });
});
