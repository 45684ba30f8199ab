import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { assetOf, edit, layoutAt, picking, shapeAt } from "../../testing/assets";
import { getBit } from "../layout/bits";
import { layoutFromCorners, structureOf } from "../layout/layout";
import { cornerPoints, pointNames } from "../layout/point-names";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { converted } from "./convert";
import { FALLOFF_CURVES, falloffAt, falloffWeights } from "./falloff";
import { elementCount, flagsAt, grown, placesOf, shrunk } from "./grow";
import { mirroredFlags } from "./mirrored";
import { allElements, elementsOfFace, facesOfElements } from "./stand-for";

const SIDE = 6;

/** A flat sheet of 6 x 6 squares about the origin, laid out as it lies and cut up the middle. */
async function sheet() {
  const positions: number[] = [];
  const faces: number[][] = [];
  for (let y = 0; y <= SIDE; y++) for (let x = 0; x <= SIDE; x++) positions.push(x - SIDE / 2, y, 0);
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const a = y * (SIDE + 1) + x;
      faces.push([a, a + 1, a + SIDE + 2, a + SIDE + 1]);
    }
  const mesh = meshFromPolygons(positions, faces);
  const uv = Float64Array.from(mesh.cornerVertex, (v) => v).reduce<number[]>((out, v) => {
    out.push(positions[3 * v]! / SIDE + 0.5, positions[3 * v + 1]! / SIDE);
    return out;
  }, []);
  const whole = assetOf(mesh, layoutFromCorners(mesh, Float64Array.from(uv)));
  const t = topologyOf(mesh);
  const middle = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) =>
    [0, 1].every((k) => positions[3 * t.edgeVertices[2 * e + k]!] === 0),
  );
  return edit(whole, "cut", {}, picking(whole, "edges", middle));
}

const asset = await sheet();
const { mesh } = shapeAt(asset);
const layout = layoutAt(asset);
const s = structureOf(mesh, layout);
const names = pointNames(s);
const flagsOf = (kind: "vertices" | "points" | "edges", items: Iterable<number>) =>
  flagsAt(Uint32Array.from(items), elementCount(mesh, kind));
/** The vertex at a place of the grid. */
const vertex = (x: number, y: number) => y * (SIDE + 1) + x;
const pointsOf = (v: number) => [
  ...placesOf(converted(mesh, layout, "vertices", flagsOf("vertices", [v]), "points", "touching")),
];
const points = () => [...allElements(mesh, layout, "points").items()];

describe("UV points as a kind of their own", () => {
  it("are named by their least corner: a vertex on a seam has two, one inside has one", () => {
    expect(pointsOf(vertex(1, 2))).toHaveLength(1);
    const both = pointsOf(vertex(3, 2));
    expect(both).toHaveLength(2);
    for (const p of both)
      expect(Math.min(...[...cornerPoints(s).keys()].filter((c) => cornerPoints(s)[c] === p))).toBe(p);
    // Back again both are the one vertex.
    const one = converted(mesh, layout, "points", flagsOf("points", both.slice(0, 1)), "vertices", "touching");
    expect([...placesOf(one)]).toEqual([vertex(3, 2)]);
    // The vertex lies wholly in what is picked only with both of them.
    const half = converted(mesh, layout, "points", flagsOf("points", both.slice(0, 1)), "vertices", "contained");
    expect([...placesOf(half)]).toEqual([]);
    const whole = converted(mesh, layout, "points", flagsOf("points", both), "vertices", "contained");
    expect([...placesOf(whole)]).toEqual([vertex(3, 2)]);
  });

  it("lead to the edges and faces that they are part of", () => {
    const [left] = pointsOf(vertex(3, 2));
    const faces = facesOfElements(
      mesh,
      layout,
      allElements(mesh, layout, "points").without(points().filter((p) => p !== left)),
      "points",
    );
    expect(faces.size).toBe(2);
    for (const f of faces) expect(elementsOfFace(mesh, layout, f, "points")).toContain(left);
    const ends = [...pointsOf(vertex(0, 0)), ...pointsOf(vertex(1, 0))];
    expect([
      ...placesOf(converted(mesh, layout, "points", flagsOf("points", ends), "edges", "contained")),
    ]).toHaveLength(1);
  });

  it("grow along edges and not across a seam, and shrink back", () => {
    const start = pointsOf(vertex(1, 2));
    const once = grown(mesh, layout, "points", flagsOf("points", start));
    expect(placesOf(once)).toHaveLength(5);
    expect([...placesOf(shrunk(mesh, layout, "points", once))]).toEqual(start);
    let all = once;
    for (let k = 0; k < 20; k++) all = grown(mesh, layout, "points", all);
    // The left half of the sheet: 4 columns of 7.
    expect(placesOf(all)).toHaveLength(4 * 7);
  });

  it("mirror to the other side of the seam, twice to themselves", () => {
    fc.assert(
      fc.property(fc.subarray(points()), (some) => {
        const flags = flagsOf("points", some);
        const other = mirroredFlags(mesh, layout, "points", flags, 0);
        expect(placesOf(other)).toHaveLength(some.length);
        expect([...placesOf(mirroredFlags(mesh, layout, "points", other, 0))]).toEqual([...placesOf(flags)]);
      }),
    );
  });

  it("are pinned by themselves, and moved away from the other side of the seam", async () => {
    const [left, right] = pointsOf(vertex(3, 2)) as [number, number];
    const pinned = await edit(asset, "pin", {}, picking(asset, "points", [left]));
    expect(Array.from({ length: s.wedgeCount }, (_, w) => w).filter((w) => getBit(layoutAt(pinned).pinned, w))).toEqual(
      [s.cornerWedge[left]],
    );
    const moved = await edit(pinned, "move-points", { du: 0.1 }, picking(asset, "points", [left, right]));
    expect(layoutAt(moved).uv[2 * s.cornerWedge[right]!]).toBeCloseTo(0.6, 12);
    expect(layoutAt(moved).uv[2 * s.cornerWedge[left]!]).toBe(0.5);
    await expect(edit(pinned, "move-points", { du: 0.1 }, picking(asset, "points", [left]))).rejects.toThrow(
      "These points have no coordinates yet, or are pinned: unfold or unpin them first.",
    );
    await expect(edit(pinned, "move-points", { du: 0.1 }, picking(asset, "faces", [0]))).rejects.toThrow(
      "Pick UV points first.",
    );
  });
});

describe("falloff", () => {
  it("is one at what is picked and nothing at its radius, whatever the curve, and never grows", () => {
    for (const curve of FALLOFF_CURVES) {
      expect([falloffAt(curve, 0), falloffAt(curve, 1)]).toEqual([1, 0]);
      for (let k = 1; k <= 20; k++) expect(falloffAt(curve, k / 20)).toBeLessThan(falloffAt(curve, (k - 1) / 20));
    }
  });

  it("weighs by the distance in the sheet to the nearest picked point, within the shell", () => {
    const first = s.cornerWedge[pointsOf(vertex(1, 3))[0]!]!;
    const { wedges, weights } = falloffWeights(mesh, layout, [first], { radius: 2.5 / SIDE, curve: "even" });
    const { uv } = layout;
    wedges.forEach((w, i) => {
      const d = Math.hypot(uv[2 * w]! - uv[2 * first]!, uv[2 * w + 1]! - uv[2 * first + 1]!);
      expect(weights[i]).toBeCloseTo(1 - d / (2.5 / SIDE), 9);
    });
    // All within the circle on this side of the seam, 2 columns to the right of it at the most.
    const within = Array.from({ length: s.wedgeCount }, (_, w) => w).filter(
      (w) =>
        uv[2 * w]! < 0.5 + 1e-9 &&
        Math.hypot(uv[2 * w]! - uv[2 * first]!, uv[2 * w + 1]! - uv[2 * first + 1]!) < 2.5 / SIDE,
    );
    const onThisSide = within.filter((w) => uv[2 * w]! < 0.49 || isLeft(w));
    expect([...wedges].sort((a, b) => a - b)).toEqual(onThisSide);
  });

  it("takes points along by as much as they weigh, and leaves the rest to the last bit", async () => {
    const [name] = pointsOf(vertex(1, 3));
    const input = { du: 0.05, dv: 0.02, radius: 0.3, curve: "smooth" };
    const moved = layoutAt(await edit(asset, "move-points", input, picking(asset, "points", [name!])));
    const { wedges, weights } = falloffWeights(mesh, layout, [s.cornerWedge[name!]!], { radius: 0.3, curve: "smooth" });
    const weightOf = new Map(Array.from(wedges, (w, i) => [w, weights[i]!]));
    for (let w = 0; w < s.wedgeCount; w++) {
      const weight = weightOf.get(w) ?? 0;
      if (!weight) expect(moved.uv[2 * w]).toBe(layout.uv[2 * w]);
      expect(moved.uv[2 * w]).toBeCloseTo(layout.uv[2 * w]! + 0.05 * weight, 12);
      expect(moved.uv[2 * w + 1]).toBeCloseTo(layout.uv[2 * w + 1]! + 0.02 * weight, 12);
    }
  });
});

/** Whether a wedge belongs to the left half. */
function isLeft(w: number): boolean {
  const c = names[w]!;
  return topologyOf(mesh).cornerFace[c]! % SIDE < SIDE / 2;
}
