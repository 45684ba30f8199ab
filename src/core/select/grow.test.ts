import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { setBit } from "../layout/bits";
import { emptyLayout, type Layout, structureOf, withBits } from "../layout/layout";
import type { SelectionKind } from "../layout/selection-kind";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { connectedFaces, elementCount, flagsAt, grown, placesOf, shrunk } from "./grow";

const SIDE = 5;
/** Two sheets of 5 x 5 squares that do not hang together. */
const mesh = meshFromPolygons(
  [0, 9].flatMap((x0) =>
    Array.from({ length: (SIDE + 1) ** 2 }, (_, i) => [x0 + (i % (SIDE + 1)), Math.floor(i / (SIDE + 1)), 0]).flat(),
  ),
  [0, (SIDE + 1) ** 2].flatMap((v0) =>
    Array.from({ length: SIDE ** 2 }, (_, i) => {
      const c = v0 + i + Math.floor(i / SIDE);
      return [c, c + 1, c + SIDE + 2, c + SIDE + 1];
    }),
  ),
);
const plain = emptyLayout(mesh);
/** The first sheet cut along its middle column into two shells. */
function halved(): Layout {
  const t = topologyOf(mesh);
  const bits = plain.cut.slice();
  for (let e = 0; e < t.edgeCount; e++) {
    const xs = [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!].map((v) => mesh.positions[3 * v]);
    if (xs.every((x) => x === 2)) setBit(bits, e);
  }
  return withBits(mesh, plain, bits);
}

const at = (kind: SelectionKind, places: number[]) => flagsAt(Uint32Array.from(places), elementCount(mesh, kind));
const KINDS = ["vertices", "edges", "faces", "shells"] as const;

describe("growing and shrinking", () => {
  it("takes what lies beside, and lets go of it again", () => {
    const middle = 12;
    const nine = placesOf(grown(mesh, plain, "faces", at("faces", [middle])));
    expect([...nine]).toEqual([6, 7, 8, 11, 12, 13, 16, 17, 18]);
    expect([...placesOf(shrunk(mesh, plain, "faces", at("faces", [...nine])))]).toEqual([middle]);
    expect([...placesOf(grown(mesh, plain, "vertices", at("vertices", [0])))]).toEqual([0, 1, 6]);
    const whole = Array.from({ length: SIDE ** 2 }, (_, i) => i);
    // A border is no edge of the selection.
    expect([...placesOf(shrunk(mesh, plain, "faces", at("faces", whole)))]).toEqual(whole);
  });

  it("goes from shell to shell across a seam, and no further", () => {
    const layout = halved();
    const s = structureOf(mesh, layout);
    expect(s.shellCount).toBe(3);
    expect([...placesOf(grown(mesh, layout, "shells", at("shells", [0])))]).toEqual([0, 2]);
    expect([...placesOf(shrunk(mesh, layout, "shells", at("shells", [0])))]).toEqual([]);
    expect([...placesOf(shrunk(mesh, layout, "shells", at("shells", [0, 2])))]).toEqual([0, 2]);
  });

  it("loses nothing by growing, gains nothing by shrinking, and shrinks what it grew back to all it had", () => {
    const layout = halved();
    const names = [0, 2, SIDE ** 2];
    fc.assert(
      fc.property(fc.constantFrom(...KINDS), fc.array(fc.nat(9999), { maxLength: 12 }), (kind, picks) => {
        const count = elementCount(mesh, kind);
        const flags = at(
          kind,
          picks.map((p) => (kind === "shells" ? names[p % names.length]! : p % count)),
        );
        const more = grown(mesh, layout, kind, flags);
        const back = shrunk(mesh, layout, kind, more);
        const less = shrunk(mesh, layout, kind, flags);
        flags.forEach((on, i) => {
          if (on && !more[i]) throw new Error(`${kind} ${i} was lost by growing`);
          if (on && !back[i]) throw new Error(`${kind} ${i} was lost by growing and shrinking`);
          if (!on && less[i]) throw new Error(`${kind} ${i} was gained by shrinking`);
        });
      }),
    );
  });
});

describe("connected faces", () => {
  it("are all of a sheet, across seams, and none of the other", () => {
    const found = placesOf(connectedFaces(mesh, at("faces", [3])));
    expect([...found]).toEqual(Array.from({ length: SIDE ** 2 }, (_, i) => i));
    expect([...placesOf(connectedFaces(mesh, at("faces", [])))]).toEqual([]);
  });
});
