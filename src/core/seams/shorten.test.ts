import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box, type Shape } from "../../../demo/kit";
import { gingerRoot } from "../../../demo/models/ginger-root";
import { shapeAt } from "../../testing/assets";
import { ball, plate, sourceFrom, torus } from "../../testing/seam-forms";
import { fullBits, getBit, makeBits, setBit } from "../layout/bits";
import { type Layout, structureOf } from "../layout/layout";
import type { Edge, Shell } from "../mesh/indices";
import { edgeFaceCount } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { formOf } from "../unfold/shell-mesh";
import { coarseTwin, ledBack } from "./coarse-twin";
import { draftLayout, draftStages } from "./draft";
import { draftPiece } from "./draft-piece";
import { seamCosts } from "./edge-cost";
import { extractPiece, joinedFaces, pieceShell, type Source, sourceOf } from "./piece";
import { seamField } from "./seam-field";
import { SeamGraph } from "./seam-graph";
import { SeamWays } from "./seam-ways";
import { shortenedLayout } from "./shortened-layout";
import { bare, straightenSeams } from "./straighten-seams";

const FORMS: ReadonlyArray<readonly [string, Shape]> = [
  ["a plate", plate(5, 4)],
  ["a crate", box([3, 2, 1], [3, 2, 1])],
  ["a ball", ball(6)],
  ["a torus", torus(12, 8)],
];

/** Every face by itself, laid flat. */
function shattered(source: Source): Layout {
  const { topology: t, mesh } = source;
  const cut = makeBits(t.edgeCount);
  for (let e = 0 as Edge; e < t.edgeCount; e++) if (edgeFaceCount(t, e) === 2) setBit(cut, e);
  const set = { cut, mapped: fullBits(mesh.faceStart.length - 1) };
  const s = structureOf(mesh, set);
  const uv = new Float64Array(2 * s.wedgeCount);
  for (const faces of joinedFaces(source, iota(mesh.faceStart.length - 1), cut)) {
    const { cornerUv } = draftPiece(source, { what: "weigh", faces, cut, limit: 9, tail: 9 }, () => {});
    let at = 0;
    for (const f of faces)
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
        for (const d of [0, 1]) uv[2 * s.cornerWedge[c]! + d] = cornerUv![at++]!;
  }
  return { ...set, uv, pinned: makeBits(s.wedgeCount) };
}

const shellsOf = (source: Source, layout: Layout) =>
  Array.from({ length: structureOf(source.mesh, layout).shellCount }, (_, k) => k as Shell);
const formsOf = (source: Source, cut: Uint8Array) =>
  joinedFaces(source, iota(source.mesh.faceStart.length - 1), cut).map((faces) =>
    formOf(pieceShell(source, extractPiece(source, faces, cut))),
  );

describe("Shortening", () => {
  it("brings a plate that was cut to pieces back in one piece, at its size and where it lay", async () => {
    const source = sourceFrom(plate(6, 5));
    const layout = shattered(source);
    const all = { limit: 1.01, mayMove: () => true };
    const { layout: now, shells, after } = await shortenedLayout(source, layout, shellsOf(source, layout), all);
    expect(shells).toEqual([30, 1]);
    expect(after).toBe(0);
    const [u, v] = [0, 1].map((d) => now.uv.filter((_, i) => i % 2 === d));
    const area = (Math.max(...u!) - Math.min(...u!)) * (Math.max(...v!) - Math.min(...v!));
    expect(area).toBeGreaterThan(29.9);
  });

  it("ends at the shells that were wished for, and takes off nothing that stays", async () => {
    const source = sourceFrom(plate(6, 5));
    const layout = shattered(source);
    const options = { limit: 1.01, byLength: true };
    const few = await shortenedLayout(source, layout, shellsOf(source, layout), {
      ...options,
      wish: 7,
      mayMove: () => true,
    });
    expect(few.shells[1]).toBeLessThanOrEqual(7);
    const none = await shortenedLayout(source, layout, shellsOf(source, layout), { ...options, mayMove: () => false });
    expect(none.layout).toBe(layout);
  });

  it.each(FORMS)("never makes seams of %s longer, nor a shell stretched beyond the limit or no disk", async (_, s) => {
    const source = sourceFrom(s);
    await fc.assert(
      fc.asyncProperty(fc.double({ min: 1.005, max: 1.2, noNaN: true }), fc.boolean(), async (limit, sameStretch) => {
        const layout = shattered(source);
        const options = { limit, sameStretch, mayMove: (e: number) => e % 7 !== 0 };
        const done = await shortenedLayout(source, layout, shellsOf(source, layout), options);
        expect(done.after).toBeLessThanOrEqual(done.before + 1e-9);
        for (let e = 0; e < source.topology.edgeCount; e++)
          if (e % 7 === 0) expect(getBit(done.layout.cut, e)).toBe(getBit(layout.cut, e));
        for (const form of formsOf(source, done.layout.cut)) expect(form.isDisk).toBe(true);
        for (const faces of joinedFaces(source, iota(s.faces.length), done.layout.cut)) {
          const again = draftPiece(source, { what: "weigh", faces, cut: done.layout.cut, limit: 9, tail: 9 }, () => {});
          expect(again.energy).toBeLessThanOrEqual(limit + 1e-9);
        }
      }),
      { numRuns: 4 },
    );
  });

  it.each(FORMS)("takes no seam off %s that Draft is to keep, at any stage", async (_, s) => {
    const source = sourceFrom(s);
    await fc.assert(
      fc.asyncProperty(fc.array(fc.nat(source.topology.edgeCount - 1), { maxLength: 12 }), async (edges) => {
        const seams = makeBits(source.topology.edgeCount);
        for (const e of edges) if (edgeFaceCount(source.topology, e as Edge) === 2) setBit(seams, e);
        for (const { cut } of (await draftStages(source, { angle: 1, limit: 1.1, seams })).layouts) {
          for (const e of edges) expect(getBit(cut, e)).toBe(getBit(seams, e));
          for (const form of formsOf(source, cut)) expect(form.isDisk).toBe(true);
        }
      }),
      { numRuns: 5 },
    );
  });

  it("leads Draft to fewer seams from stage to stage", async () => {
    const source = sourceFrom(box([3, 2, 1], [3, 2, 1]));
    const { layouts: stages } = await draftStages(source, { angle: 1, limit: 1.06 });
    const counts = stages.map((layout) => structureOf(source.mesh, layout).shellCount);
    expect(counts.at(-1)).toBe(1);
    expect(counts).toEqual([...counts].sort((a, b) => b - a));
  });
});

describe("straightened seams", () => {
  it("run straight between their ends, and part the surface as before", () => {
    const source = sourceFrom(plate(8, 8));
    const field = seamField(source);
    const { topology: t } = source;
    const at = (i: number, j: number) => j * 9 + i;
    const edge = (a: number, b: number) =>
      iota(t.edgeCount).find((e) => [0, 1].every((k) => [a, b].includes(t.edgeVertices[2 * e + k]!)))!;
    // From the lower border up by steps to the side and back.
    const path = [
      at(4, 0),
      at(4, 1),
      at(5, 1),
      at(5, 2),
      at(6, 2),
      at(6, 3),
      at(5, 3),
      at(4, 3),
      at(4, 4),
      at(4, 5),
      at(4, 6),
      at(4, 7),
      at(4, 8),
    ];
    const cut = makeBits(t.edgeCount);
    for (let i = 0; i + 1 < path.length; i++) setBit(cut, edge(path[i]!, path[i + 1]!));
    const graph = new SeamGraph(field, cut, joinedFaces(source, iota(64), cut).map(bare), new Uint8Array(81));
    expect(straightenSeams(graph, new SeamWays(graph), () => true)).toBeGreaterThan(0);
    const seams = iota(t.edgeCount).filter((e) => graph.isSeam(e));
    expect([...seams].sort()).toEqual(Array.from({ length: 8 }, (_, j) => edge(at(4, j), at(4, j + 1))).sort());
    expect(graph.shells.size).toBe(2);
  });
});

describe("seams of a coarse twin, led back", () => {
  const root = shapeAt(gingerRoot(0.4)).mesh;
  it.each([
    ["a ball", sourceFrom(ball(16))],
    ["a torus", sourceFrom(torus(40, 24))],
    ["a root", sourceOf(root, root.positions, seamCosts(root, root.positions))],
  ])("part %s into as many disks as they part the twin", async (_, source) => {
    const field = seamField(source);
    const none = makeBits(source.topology.edgeCount);
    for (const left of [60, 150]) {
      const twin = coarseTwin(field, iota(source.mesh.faceStart.length - 1), none, left, () => {});
      expect(twin.points.length).toBeLessThan(0.9 * source.mesh.positions.length);
      const { cut } = await draftLayout(twin.source, { angle: 1.2, limit: 1.3 });
      const fine = none.slice();
      for (const e of ledBack(field, twin, cut)) setBit(fine, e);
      const [coarse, now] = [formsOf(twin.source, cut), formsOf(source, fine)];
      expect(now.every((form) => form.isDisk)).toBe(coarse.every((form) => form.isDisk));
      // A diagonal that is gone about may cut off a face.
      expect(now.length).toBeGreaterThanOrEqual(coarse.length);
      expect(now.length).toBeLessThanOrEqual(coarse.length + 3);
    }
  });
});
