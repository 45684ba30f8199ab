import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { groupsOf } from "./groups";
import { connectedFaces, flagsAt } from "./grow";

/** A row of quads in one plane, numbered along it. */
const row = (n: number) =>
  meshFromPolygons(
    Array.from({ length: n + 1 }, (_, x) => [x, 0, 0, x, 1, 0]).flat(),
    Array.from({ length: n }, (_, i) => [2 * i, 2 * i + 2, 2 * i + 3, 2 * i + 1]),
  );

describe("groups of what is picked", () => {
  it("are runs of neighbours, the strays first", () => {
    const mesh = row(10);
    const groups = groupsOf(mesh, "faces", flagsAt(Uint32Array.of(0, 1, 2, 5, 8, 9), 10));
    expect(groups.map((g) => [...g])).toEqual([[5], [8, 9], [0, 1, 2]]);
  });

  it("hold every element once, and none that is not picked; edges meet at vertices", () => {
    const mesh = row(6);
    const edges = topologyOf(mesh).edgeCount;
    fc.assert(
      fc.property(
        fc.constantFrom("edges" as const, "faces" as const, "vertices" as const),
        fc.infiniteStream(fc.boolean()),
        (kind, coin) => {
          const n = { edges, faces: 6, vertices: 14 }[kind];
          const flags = Uint8Array.from({ length: n }, () => (coin.next().value ? 1 : 0));
          const all = groupsOf(mesh, kind, flags).flatMap((g) => [...g]);
          expect(all.sort((a, b) => a - b)).toEqual([...flags.keys()].filter((i) => flags[i]));
        },
      ),
    );
    expect(groupsOf(mesh, "edges", new Uint8Array(edges).fill(1))).toHaveLength(1);
  });

  it("go on only across edges that let them", () => {
    const mesh = row(5);
    const t = topologyOf(mesh);
    // The line between the third and the fourth quad.
    const wall = [...Array(t.edgeCount).keys()].find(
      (e) => t.edgeVertices[2 * e]! + t.edgeVertices[2 * e + 1]! === 13,
    )!;
    const from = flagsAt(Uint32Array.of(0), 5);
    expect([...connectedFaces(mesh, from)]).toEqual([1, 1, 1, 1, 1]);
    expect([...connectedFaces(mesh, from, (e) => e !== wall)]).toEqual([1, 1, 1, 0, 0]);
  });
});
