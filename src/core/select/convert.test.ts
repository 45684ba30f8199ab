import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { assemble, lathe } from "../../../demo/kit";
import { edit, layoutAt, picking, shapeAt } from "../../testing/assets";
import { structureOf } from "../layout/layout";
import type { SelectionKind } from "../layout/selection-kind";
import type { Edge } from "../mesh/indices";
import { faceCount } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { converted, rimEdges } from "./convert";
import { elementCount, flagsAt, placesOf } from "./grow";
import { allElements } from "./stand-for";

/** A drum of 6 sides and 3 rings of quads between two hexagons, cut round the middle ring. */
const drum = await (async () => {
  const whole = assemble(
    "Drum",
    "cm",
    [],
    [
      {
        name: "Drum",
        shape: lathe(
          [0, 1, 2, 3].map((y): [number, number] => [2, y]),
          6,
        ),
      },
    ],
  );
  const { mesh } = shapeAt(whole);
  const t = topologyOf(mesh);
  const level = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) =>
    [1, 2].some((y) => [0, 1].every((k) => mesh.positions[3 * t.edgeVertices[2 * e + k]! + 1] === y)),
  );
  return edit(whole, "cut", {}, picking(whole, "edges", level));
})();
const { mesh } = shapeAt(drum);
const layout = layoutAt(drum);
const t = topologyOf(mesh);
const KINDS: readonly SelectionKind[] = ["vertices", "edges", "faces", "shells"];
const convert = (kind: SelectionKind, places: number[], to: SelectionKind, how: "touching" | "contained") => [
  ...placesOf(converted(mesh, layout, kind, flagsAt(Uint32Array.from(places), elementCount(mesh, kind)), to, how)),
];
const kinds = fc.constantFrom(...KINDS);
const places = (kind: SelectionKind) => fc.subarray([...allElements(mesh, layout, kind).items()]);

describe("converting a selection", () => {
  it("takes what touches it, or what lies in it", () => {
    const quad = t.cornerFace.findIndex(
      (_, c) => mesh.faceStart[t.cornerFace[c]! + 1]! - mesh.faceStart[t.cornerFace[c]!]! === 4,
    );
    const face = t.cornerFace[quad]!;
    expect(convert("faces", [face], "vertices", "touching")).toHaveLength(4);
    expect(convert("faces", [face], "edges", "touching")).toHaveLength(4);
    // No edge or vertex has this face alone.
    expect(convert("faces", [face], "edges", "contained")).toEqual([]);
    const corners = convert("faces", [face], "vertices", "touching");
    expect(convert("vertices", corners, "faces", "contained")).toEqual([face]);
    expect(convert("vertices", corners, "edges", "contained")).toHaveLength(4);
    expect(convert("faces", [face], "shells", "touching")).toHaveLength(1);
    expect(convert("faces", [face], "shells", "contained")).toEqual([]);
    expect(structureOf(mesh, layout).shellCount).toBe(3);
  });

  it("obeys its laws: contained is in touching, all leads to all, and touching and contained are each other's complement", () => {
    fc.assert(
      fc.property(
        kinds.chain((kind) => fc.record({ kind: fc.constant(kind), picked: places(kind), to: kinds })),
        ({ kind, picked, to }) => {
          const all = [...allElements(mesh, layout, kind).items()];
          const everything = [...allElements(mesh, layout, to).items()];
          const touching = convert(kind, picked, to, "touching");
          const contained = convert(kind, picked, to, "contained");
          expect(touching).toEqual(expect.arrayContaining(contained));
          expect(convert(kind, all, to, "contained")).toEqual(everything);
          const rest = all.filter((i) => !picked.includes(i));
          expect(convert(kind, rest, to, "contained")).toEqual(everything.filter((i) => !touching.includes(i)));
        },
      ),
    );
  });
});

describe("the rim of a selection", () => {
  const rim = (kind: "faces" | "shells", picked: number[]) => [
    ...placesOf(rimEdges(mesh, layout, kind, flagsAt(Uint32Array.from(picked), faceCount(mesh)))),
  ];

  it("has picked faces on one side, and others on the other", () => {
    fc.assert(
      fc.property(places("faces"), (picked) => {
        const wanted = Array.from({ length: t.edgeCount }, (_, e) => e as Edge).filter((e) => {
          const faces = Array.from(
            { length: edgeFaceCount(t, e) },
            (_, k) => t.cornerFace[t.edgeCorners[t.edgeCornerStart[e]! + k]!]!,
          );
          return faces.filter((f) => picked.includes(f)).length === 1;
        });
        expect(rim("faces", picked)).toEqual(wanted);
      }),
    );
  });

  it("of a shell is its seams", () => {
    const shells = [...allElements(mesh, layout, "shells").items()];
    expect(rim("shells", shells)).toEqual([]);
    expect(rim("shells", [shells[1]!]).length % 6).toBe(0);
  });
});
