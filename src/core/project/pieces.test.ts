import { describe, expect, it } from "vitest";
import { makeBits, setBit } from "../layout/bits";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { boxSides } from "./box-sides";
import { formOf } from "./form";
import { frameAbout } from "./frame";
import { piecesOf } from "./pieces";

/** Two squares side by side, and a third that touches neither. */
const squares = () =>
  meshFromPolygons(
    Float64Array.from([0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 2, 0, 0, 2, 1, 0, 5, 0, 0, 6, 0, 0, 6, 1, 0, 5, 1, 0]),
    [
      [0, 1, 2, 3],
      [1, 4, 5, 2],
      [6, 7, 8, 9],
    ],
  );
const lists = (found: readonly Uint32Array[]) => found.map((own) => [...own]);

describe("what is projected by itself", () => {
  it("is what hangs together, parted further by seams, groups or materials where that is asked for", () => {
    const plain = squares();
    const t = topologyOf(plain);
    const cut = makeBits(t.edgeCount);
    expect(lists(piecesOf(plain, iota(3), cut, "body"))).toEqual([[0, 1], [2]]);
    expect(lists(piecesOf(plain, iota(3), cut, "shell"))).toEqual([[0, 1], [2]]);
    for (let e = 0; e < t.edgeCount; e++) setBit(cut, e);
    expect(lists(piecesOf(plain, iota(3), cut, "body"))).toEqual([[0, 1], [2]]);
    expect(lists(piecesOf(plain, iota(3), cut, "shell"))).toEqual([[0], [1], [2]]);
    const grouped = { ...plain, faceGroup: Uint32Array.of(0, 1, 1) };
    expect(lists(piecesOf(grouped, iota(3), cut, "group"))).toEqual([[0], [1], [2]]);
    const painted = { ...plain, faceMaterial: Uint32Array.of(4, 4, 7) };
    expect(lists(piecesOf(painted, iota(3), cut, "material"))).toEqual([[0, 1], [2]]);
  });

  it("takes only the faces that are meant", () => {
    const plain = squares();
    expect(lists(piecesOf(plain, Uint32Array.of(1), makeBits(20), "body"))).toEqual([[1]]);
  });
});

describe("sides of a box", () => {
  it("are those that faces face most; a scrap goes with what lies beside it, where it faces that too", () => {
    // A long floor, a short step that leans, and the floor behind it.
    const profile = [
      [0, 0],
      [10, 0],
      [10.02, 0.05],
      [20, 0.05],
    ] as const;
    const points = [0, 5].flatMap((y) => profile.flatMap(([x, z]) => [x, y, z]));
    const mesh = meshFromPolygons(
      Float64Array.from(points),
      [0, 1, 2].map((k) => [k, k + 1, k + 5, k + 4]),
    );
    const none = makeBits(topologyOf(mesh).edgeCount);
    const frame = frameAbout([0, 0, 1], [0, 1, 0], [0, 0, 0]);
    const form = formOf(mesh, mesh.positions, iota(3), none, frame);
    expect([...boxSides(form, [0, 1, 2, 3, 4, 5])]).toEqual([4, 4, 4]);
    // By itself the step faces the other way.
    const step = formOf(mesh, mesh.positions, Uint32Array.of(1), none, frame);
    expect(boxSides(step, [0, 1, 2, 3, 4, 5])[1]).toBe(1);
  });
});
