import { describe, expect, it } from "vitest";
import { box, lathe, type Shape } from "../../../demo/kit";
import { gingerRoot } from "../../../demo/models/ginger-root";
import { assetOf, shapeAt } from "../../testing/assets";
import { ball, meshOf, sourceFrom, torus } from "../../testing/seam-forms";
import { countBits, getBit, makeBits, setBit } from "../layout/bits";
import { emptyLayout, structureOf } from "../layout/layout";
import type { Edge } from "../mesh/indices";
import { edgeLoop } from "../mesh/loops";
import { faceCount } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { edgePath, pathsFromEdge } from "../mesh/walks";
import { graphOf, shortestPaths } from "../numeric/heap";
import { minCut } from "../numeric/min-cut";
import { formOf } from "../unfold/shell-mesh";
import { bisect } from "./bisect";
import { creasedEdges, unwoundEdges, withoutLooseEnds } from "./creased";
import { draftLayout } from "./draft";
import { edgeLengths, seamCosts } from "./edge-cost";
import { openUp } from "./open-up";
import { extractPiece, joinedFaces, pieceShell, sourceOf } from "./piece";
import { faceVisibility } from "./visibility";

const allFaces = (n: number) => Uint32Array.from({ length: n }, (_, f) => f);

function opened(s: Shape, tips = true) {
  const source = sourceFrom(s);
  const cut = makeBits(source.topology.edgeCount);
  const whole = extractPiece(source, allFaces(s.faces.length), cut);
  const edges = openUp(source, whole, tips);
  for (const e of edges) setBit(cut, e);
  const groups = joinedFaces(source, allFaces(s.faces.length), cut);
  return { edges, groups, forms: groups.map((g) => formOf(pieceShell(source, extractPiece(source, g, cut)))) };
}

describe("Open up", () => {
  it.each([
    ["a ball", ball(8)],
    ["a torus", torus(12, 8)],
    [
      "a tube",
      lathe(
        [
          [1, 0],
          [1, 1],
          [1, 2],
        ],
        10,
        0,
        false,
      ),
    ],
    ["a crate", box([2, 1, 1], [2, 2, 2])],
    [
      "a jar with a hole at either end",
      lathe(
        [
          [1, 0],
          [2, 1],
          [2, 2],
          [1, 3],
        ],
        12,
        0,
        false,
      ),
    ],
  ])("makes %s one disk", (_, s) => {
    const { groups, forms } = opened(s);
    expect(groups).toHaveLength(1);
    expect(forms[0]!.isDisk).toBe(true);
  });

  it("reaches all corners of a crate, with the fewest edges that do", () => {
    const { edges } = opened(box([1, 1, 1]));
    expect(edges).toHaveLength(7); // a tree over eight corners
  });

  it("goes down a finger to its tip", () => {
    const finger: [number, number][] = [
      [3, 0],
      [1, 0.4],
      [0.9, 2],
      [0.9, 4],
      [0.9, 6],
      [0.6, 6.7],
      [0, 7],
    ];
    const s = lathe(finger, 16, 0, false);
    const { edges } = opened(s);
    const tip = s.points.findIndex((p) => p[1] === 7);
    const t = topologyOf(meshOf(s));
    expect(Array.from(edges).some((e) => t.edgeVertices[2 * e] === tip || t.edgeVertices[2 * e + 1] === tip)).toBe(
      true,
    );
  });

  it("cuts where faces wind against each other", () => {
    const s = box([1, 1, 1]);
    s.faces[0]!.reverse();
    expect(unwoundEdges(meshOf(s))).toHaveLength(4);
    expect(opened(s).edges).toHaveLength(4);
  });
});

describe("creases", () => {
  it("finds the edges of a crate and none of a ball", () => {
    const crate = meshOf(box([1, 1, 1], [3, 3, 3]));
    expect(countBits(creasedEdges(crate, crate.positions, 1))).toBe(36);
    const round = meshOf(ball(12));
    expect(countBits(creasedEdges(round, round.positions, 1))).toBe(0);
  });

  it("leaves out lines that end in the middle of the surface", () => {
    const mesh = meshOf(box([1, 1, 1], [4, 4, 4]));
    const t = topologyOf(mesh);
    const loop = edgeLoop(mesh, 0 as Edge);
    const bits = makeBits(t.edgeCount);
    for (const e of loop) setBit(bits, e);
    expect(withoutLooseEnds(mesh, bits)).toEqual(bits);
    const loose = makeBits(t.edgeCount);
    for (const e of loop.subarray(0, 3)) setBit(loose, e);
    expect(countBits(withoutLooseEnds(mesh, loose))).toBe(0);
  });
});

describe("walks", () => {
  it("takes a loop round a tube and a line along it", () => {
    const mesh = meshOf(
      lathe(
        [
          [1, 0],
          [1, 1],
          [1, 2],
          [1, 3],
        ],
        12,
        0,
        false,
      ),
    );
    const t = topologyOf(mesh);
    const lengths = [...Array(t.edgeCount).keys()].map((e) => edgeLoop(mesh, e as Edge).length);
    expect(new Set(lengths)).toEqual(new Set([12, 3]));
  });

  it("finds the shortest path between two edges, both included", () => {
    const mesh = meshOf(box([1, 1, 1], [4, 4, 4]));
    const lengths = edgeLengths(mesh, mesh.positions);
    const path = edgePath(
      mesh,
      pathsFromEdge(mesh, lengths, 0 as Edge),
      0 as Edge,
      (topologyOf(mesh).edgeCount - 1) as Edge,
    );
    expect(path).toContain(0);
    expect(path).toContain(topologyOf(mesh).edgeCount - 1);
    expect(edgePath(mesh, pathsFromEdge(mesh, lengths, 5 as Edge), 5 as Edge, 5 as Edge)).toEqual(
      Uint32Array.from([5]),
    );
  });
});

describe("halving", () => {
  it("cuts a long crate across its middle, the short way", () => {
    const source = sourceFrom(box([8, 1, 1], [8, 1, 1]));
    const cut = makeBits(source.topology.edgeCount);
    const faces = allFaces(34);
    for (const e of bisect(source, extractPiece(source, faces, cut))) setBit(cut, e);
    const groups = joinedFaces(source, faces, cut);
    expect(groups).toHaveLength(2);
    expect(countBits(cut)).toBe(4);
  });

  it("finds the least cut of a small net", () => {
    const graph = graphOf(4, [0, 0, 1, 2, 1], [1, 2, 3, 3, 2]);
    const near = minCut(graph, Float64Array.from([3, 1, 1, 5, 1]), Uint8Array.from([1, 0, 0, 2]));
    expect(Array.from(near)).toEqual([1, 1, 0, 0]); // 0-2, 1-3 and 1-2: 3 in all
    expect(Array.from(shortestPaths(graph, [3, 1, 1, 5, 1], [0]).distance)).toEqual([0, 2, 1, 3]);
  });
});

describe("visibility", () => {
  it("is full on the outside and none inside", () => {
    const s = box([1, 1, 1]);
    const inner = box([0.5, 0.5, 0.5]);
    const base = s.points.length;
    for (const p of inner.points) s.points.push([p[0] + 0.25, p[1] + 0.25, p[2] + 0.25]);
    for (const f of inner.faces) s.faces.push(f.map((i) => i + base));
    const mesh = meshOf(s);
    const seen = faceVisibility(assetOf(mesh)).get("p1")!;
    expect(Math.min(...seen.subarray(0, 6))).toBeGreaterThan(0.3);
    expect(Math.max(...seen.subarray(6))).toBe(0);
  });
});

describe("Draft", () => {
  it.each([
    ["a ball", ball(10), 4],
    ["a torus", torus(16, 10), 4],
    ["a crate", box([3, 2, 1], [3, 2, 1]), 2],
  ])("lays %s out within the limit, in few shells", async (_, s, most) => {
    const source = sourceFrom(s);
    const set = await draftLayout(source, { angle: 1, limit: 1.06 });
    const { shellCount } = structureOf(source.mesh, set);
    expect(shellCount).toBeLessThanOrEqual(most);
    for (let e = 0 as Edge; e < source.topology.edgeCount; e++)
      if (getBit(set.cut, e)) expect(edgeFaceCount(source.topology, e)).toBe(2);
  });

  it("does as well on an organic root as on turned ones", async () => {
    const root = shapeAt(gingerRoot(0.4));
    expect(countBits(emptyLayout(root.mesh).mapped)).toBe(0);
    const source = sourceOf(root.mesh, root.mesh.positions, seamCosts(root.mesh, root.mesh.positions));
    const set = await draftLayout(source, { angle: 1, limit: 1.06 });
    expect(countBits(set.mapped)).toBe(faceCount(root.mesh));
    expect(structureOf(root.mesh, set).shellCount).toBeLessThan(30);
  });
});
