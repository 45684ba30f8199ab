import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { FaceTable } from "./face-table";
import { meshFromPolygons } from "./poly-mesh";

const VERTICES = 6;
const faceList = fc.array(fc.array(fc.nat(VERTICES - 1), { minLength: 3, maxLength: 5 }), { maxLength: 12 });
const meshOf = (faces: number[][]) => meshFromPolygons(new Array(3 * VERTICES).fill(0), faces);
const labels = fc.array(fc.integer({ min: -2, max: 4 }), { minLength: VERTICES, maxLength: VERTICES });
const keyOf = (face: number[], label: number[]) =>
  face
    .map((v) => label[v]!)
    .sort((a, b) => a - b)
    .join();

describe("a table of faces", () => {
  it("finds the first face with the same labels, whatever their order, as comparing with every face does", () => {
    fc.assert(
      fc.property(faceList, faceList, labels, labels, (own, other, ownLabels, otherLabels) => {
        const table = new FaceTable(meshOf(own), ownLabels);
        const mesh = meshOf(other);
        other.forEach((face, f) => {
          const key = keyOf(face, otherLabels);
          expect(table.find(mesh, f, otherLabels)).toBe(own.findIndex((g) => keyOf(g, ownLabels) === key));
        });
      }),
    );
  });

  it("gives every face away once, the first of those alike first", () => {
    fc.assert(
      fc.property(faceList, faceList, labels, (own, other, label) => {
        const table = new FaceTable(meshOf(own), label);
        const mesh = meshOf(other);
        const left = own.map((g) => keyOf(g, label) as string | null);
        other.forEach((face, f) => {
          const at = left.indexOf(keyOf(face, label));
          expect(table.take(mesh, f, label)).toBe(at);
          if (at >= 0) left[at] = null;
        });
      }),
    );
  });
});
