import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { lathe } from "../../../demo/kit";
import type { Edge } from "../mesh/indices";
import { edgeLoop } from "../mesh/loops";
import { faceCount, meshFromPolygons } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { fullBits, getBit, makeBits, setBit } from "./bits";
import { emptyLayout, layoutFromCorners, structureOf, withBits } from "./layout";
import { structureAfterCuts, withAdded } from "./structure-update";

const vase = () => {
  const s = lathe(
    Array.from({ length: 7 }, (_, i): [number, number] => [1 + (i % 3) / 4, i]),
    9,
  );
  return meshFromPolygons(s.points.flat(), s.faces);
};

describe("a structure after cuts", () => {
  it("is the one derived from nothing, whatever was cut before and is cut now", () => {
    const edges = topologyOf(vase()).edgeCount;
    const some = fc.array(fc.integer({ min: 0, max: edges - 1 }), { maxLength: 40 });
    fc.assert(
      fc.property(some, some, fc.array(fc.integer({ min: 0, max: 55 }), { maxLength: 6 }), (before, more, unmapped) => {
        // A mesh of its own each time: nothing derived is at hand.
        const mesh = vase();
        const faces = faceCount(mesh);
        const mapped = fullBits(faces);
        for (const f of unmapped) if (f < faces) mapped[f >> 3]! &= ~(1 << (f & 7));
        const cut = makeBits(edges);
        for (const e of before) setBit(cut, e);
        const next = cut.slice();
        for (const e of more) setBit(next, e);
        const old = structureOf(mesh, { cut, mapped });
        const updated = structureAfterCuts(mesh, old, { cut, mapped }, next)!;
        const fresh = structureOf(mesh, { cut: next.slice(), mapped });
        expect(updated.structure).toEqual(fresh);
        // Every wedge is, or is split off, the one its first corner was in.
        const from = withAdded(iota(old.wedgeCount), 1, updated.added);
        for (let c = fresh.cornerWedge.length - 1; c >= 0; c--)
          expect(from[fresh.cornerWedge[c]!]).toBe(old.cornerWedge[c]);
      }),
      { numRuns: 200 },
    );
  });

  it("is the one derived from nothing when lines are closed, round parts of any size", () => {
    const edges = topologyOf(vase()).edgeCount;
    const line = fc.nat(edges - 1);
    fc.assert(
      fc.property(fc.array(line, { maxLength: 3 }), fc.array(line, { minLength: 1, maxLength: 4 }), (before, more) => {
        const mesh = vase();
        const bits = (list: readonly number[], cut: Uint8Array) => {
          for (const e of list) for (const x of edgeLoop(mesh, e as Edge)) setBit(cut, x);
          return cut;
        };
        const mapped = fullBits(faceCount(mesh));
        const cut = bits(before, makeBits(edges));
        const next = bits(more, cut.slice());
        const updated = structureAfterCuts(mesh, structureOf(mesh, { cut, mapped }), { cut, mapped }, next)!;
        expect(updated.structure).toEqual(structureOf(mesh, { cut: next.slice(), mapped }));
      }),
      { numRuns: 200 },
    );
  });

  it("is not answered when cuts were taken away", () => {
    const mesh = vase();
    const bits = { cut: fullBits(topologyOf(mesh).edgeCount), mapped: fullBits(faceCount(mesh)) };
    expect(structureAfterCuts(mesh, structureOf(mesh, bits), bits, makeBits(topologyOf(mesh).edgeCount))).toBeNull();
  });

  it("carries points and pins to the wedges that come of theirs", () => {
    const mesh = vase();
    const t = topologyOf(mesh);
    const uv = Float64Array.from(
      { length: 2 * mesh.cornerVertex.length },
      (_, i) => mesh.cornerVertex[i >> 1]! / 100 + (i % 2),
    );
    const start = layoutFromCorners(mesh, uv);
    const pinned = { ...start, pinned: start.pinned.slice() };
    setBit(pinned.pinned, 3);
    const cut = start.cut.slice();
    for (let e = 0 as Edge; e < t.edgeCount; e = (e + 2) as Edge) if (edgeFaceCount(t, e) === 2) setBit(cut, e);
    const after = withBits(mesh, pinned, cut);
    const [old, now] = [structureOf(mesh, pinned), structureOf(mesh, after)];
    for (let c = 0; c < mesh.cornerVertex.length; c++) {
      const [w, v] = [old.cornerWedge[c]!, now.cornerWedge[c]!];
      expect(after.uv[2 * v]).toBe(pinned.uv[2 * w]);
      expect(getBit(after.pinned, v)).toBe(w === 3);
    }
    expect(emptyLayout(mesh).uv.length).toBe(2 * structureOf(mesh, emptyLayout(mesh)).wedgeCount);
  });
});
