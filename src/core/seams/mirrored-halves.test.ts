import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box } from "../../../demo/kit";
import { meshOf, plate, sourceFrom } from "../../testing/seam-forms";
import { getBit, makeBits, placesOfBits, setBit } from "../layout/bits";
import { structureOf } from "../layout/layout";
import { edgeImages } from "../mesh/edge-images";
import type { Shell } from "../mesh/indices";
import { topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { symmetryOf } from "../transfer/symmetry";
import { formOf, shellMesh } from "../unfold/shell-mesh";
import { draftStages } from "./draft";
import { HalvesFinder } from "./mirrored-halves";

/** A block of so many squares along its sides, swollen alike on both sides of x = 0. */
function swollen(n: number, bulge: number, lean: number) {
  const s = box([2, 2, 2], [2 * n, n + 1, n]);
  const middle = [0, 1, 2].map((d) => {
    const at = s.points.map((p) => p[d]!);
    return (Math.max(...at) + Math.min(...at)) / 2;
  });
  const points = s.points.map((p): [number, number, number] => {
    const [x, y, z] = [p[0] - middle[0]!, p[1] - middle[1]!, p[2] - middle[2]!];
    const grow = 1 + bulge * Math.cos(2 * x) * (1 - y * y) + lean * z * y;
    return [x * grow, y * (1 + lean * z), z * grow];
  });
  return { ...s, points };
}

describe("halves that mirror each other", () => {
  it("are found with the edges between them, and not where a face lies across the middle", () => {
    const even = meshOf(box([4, 2, 2], [4, 2, 2]));
    const faces = iota(even.faceStart.length - 1);
    const halves = new HalvesFinder(even, 1).of(faces, makeBits(topologyOf(even).edgeCount))!;
    expect(halves.half).toHaveLength(faces.length / 2);
    // 2 squares up, along, down and back.
    expect(halves.middle).toHaveLength(8);
    // A seam that stays on one side alone leaves nothing to repeat, one on both does.
    const t = topologyOf(even);
    const image = edgeImages(even, symmetryOf(even, 0).vertex);
    const own = [...Array(t.edgeCount).keys()].find((e) => image[e]! >= 0 && image[e] !== e)!;
    const kept = makeBits(t.edgeCount);
    setBit(kept, own);
    expect(new HalvesFinder(even, 1).of(faces, kept)?.middle).not.toHaveLength(8);
    setBit(kept, image[own]!);
    expect(new HalvesFinder(even, 1).of(faces, kept)!.middle).toHaveLength(8);
    const odd = meshOf(box([3, 3, 3], [3, 3, 3]));
    expect(new HalvesFinder(odd, 1).of(iota(54), makeBits(topologyOf(odd).edgeCount))).toBeNull();
    const few = meshOf(plate(2, 2));
    expect(new HalvesFinder(few, 1).of(iota(4), makeBits(topologyOf(few).edgeCount))).toBeNull();
  });

  it("get seams that mirror each other, at every state of a draft, and shells that are disks and flip nothing", async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 2, max: 3 }),
        fc.double({ min: 0, max: 0.5, noNaN: true }),
        fc.double({ min: 0, max: 0.25, noNaN: true }),
        async (n, bulge, lean) => {
          const source = sourceFrom(swollen(n, bulge, lean));
          const { mesh } = source;
          const image = edgeImages(mesh, symmetryOf(mesh, 0).vertex);
          const { layouts: stages } = await draftStages(source, { angle: 1, limit: 1.08, style: "rounded", up: 1 });
          for (const layout of stages) {
            for (const e of placesOfBits(layout.cut)) expect(getBit(layout.cut, image[e]!)).toBe(true);
            const s = structureOf(mesh, layout);
            for (let k = 0; k < s.shellCount; k++) {
              const shell = shellMesh(mesh, source.world, layout, k as Shell);
              expect(formOf(shell).isDisk).toBe(true);
              const { triangles, wedges } = shell;
              const at = (i: number) => [layout.uv[2 * wedges[i]!]!, layout.uv[2 * wedges[i]! + 1]!] as const;
              for (let t = 0; t < triangles.length; t += 3) {
                const [a, b, c] = [at(triangles[t]!), at(triangles[t + 1]!), at(triangles[t + 2]!)];
                const area = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
                expect(area).toBeGreaterThan(0);
              }
            }
          }
        },
      ),
      { numRuns: 8 },
    );
  }, 60_000);
});
