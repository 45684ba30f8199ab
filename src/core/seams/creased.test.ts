import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box } from "../../../demo/kit";
import { type Bits, clearBit, getBit, makeBits, setBit } from "../layout/bits";
import type { Edge } from "../mesh/indices";
import { meshFromPolygons, type PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { withoutLooseEnds } from "./creased";

/** A sheet of quads: its rim is a border, on which seams may end. */
function sheet(n: number): PolyMesh {
  const points: number[] = [];
  for (let j = 0; j <= n; j++) for (let i = 0; i <= n; i++) points.push(i, j, 0);
  const faces: number[][] = [];
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i;
      faces.push([a, a + 1, a + n + 2, a + n + 1]);
    }
  return meshFromPolygons(points, faces);
}
const shape = box([1, 1, 1]);
const cube = meshFromPolygons(shape.points.flat(), shape.faces);

/** Takes one loose seam after another off, looking at all edges each time. */
function byHand(mesh: PolyMesh, seams: Bits): Bits {
  const t = topologyOf(mesh);
  const bits = seams.slice();
  const isLine = (e: number) => edgeFaceCount(t, e as Edge) !== 2 || getBit(bits, e);
  for (;;) {
    const degree = new Map<number, number>();
    for (let e = 0; e < t.edgeCount; e++)
      if (isLine(e))
        for (const k of [0, 1])
          degree.set(t.edgeVertices[2 * e + k]!, (degree.get(t.edgeVertices[2 * e + k]!) ?? 0) + 1);
    let loose = -1;
    for (let e = 0; e < t.edgeCount && loose < 0; e++)
      if (
        edgeFaceCount(t, e as Edge) === 2 &&
        getBit(bits, e) &&
        [0, 1].some((k) => degree.get(t.edgeVertices[2 * e + k]!) === 1)
      )
        loose = e;
    if (loose < 0) return bits;
    clearBit(bits, loose);
  }
}

describe("seams without loose ends", () => {
  it("are those that are left when loose ones are taken off one by one", () => {
    for (const mesh of [sheet(4), cube]) {
      const { edgeCount } = topologyOf(mesh);
      fc.assert(
        fc.property(fc.subarray(Array.from({ length: edgeCount }, (_, e) => e)), (picked) => {
          const seams = makeBits(edgeCount);
          for (const e of picked) setBit(seams, e);
          expect(withoutLooseEnds(mesh, seams)).toEqual(byHand(mesh, seams));
        }),
      );
    }
  });
});
