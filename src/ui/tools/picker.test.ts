import { beforeAll, describe, expect, it } from "vitest";
import { type Asset, type PartId, shapesOf } from "@/core/layout/asset";
import { newAsset } from "@/core/layout/new-asset";
import { meshFromPolygons } from "@/core/mesh/poly-mesh";
import { IDENTITY } from "@/core/mesh/transform";
import type { SelectionKind } from "@/core/operations/operation";
import { itemAt, itemsSeen, itemsThrough, type Surface } from "./picker";
import { boxRegion, lassoRegion } from "./region";

// Picking on the form: a strip of two squares, drawn twice, the second part five to the right. Ten pixels to a unit.

const moved = IDENTITY.map((x, i) => (i === 12 ? 5 : x));
let asset: Asset;
const PIXELS = [10, 0, 0, 0, 0, -10, 0, 0, 0, 0, 1, 0, 0, 100, 0, 1];

beforeAll(() => {
  const mesh = meshFromPolygons(
    [0, 0, 0, 1, 0, 0, 2, 0, 0, 0, 1, 0, 1, 1, 0, 2, 1, 0],
    [
      [0, 1, 4, 3],
      [1, 2, 5, 4],
    ],
  );
  const one = newAsset({ id: "a", name: "Strips", source: { name: "t.made", format: "made" } }, [
    { id: "p1", name: "Strip", mesh, layouts: [] },
  ]);
  const [part] = one.parts;
  asset = { ...one, parts: [part!, { ...part!, id: "p2", name: "Other", transform: moved }] };
});

/** A surface on which some faces are seen wherever one looks. */
const surface = (...seen: Array<{ part: PartId; face: number }>): Surface => ({
  faceAt: () => seen[0] ?? null,
  facesIn: () => seen,
  pixelMatrix: () => PIXELS,
});
const now = (kind: SelectionKind, hidden: readonly PartId[] = []) => ({
  asset,
  set: asset.sets[0]!.id,
  kind,
  hidden: new Set(hidden),
});
const found = (items: ReturnType<typeof itemsSeen>) => [...(items.get(shapesOf(asset)[0]!.id) ?? [])];

describe("what the pointer means on the form", () => {
  it("is the nearest edge or corner of the face seen, where that part stands", () => {
    // The right end of the second square: at x = 2 of the first part, at 7 of the other.
    for (const [part, x] of [
      ["p1", 20],
      ["p2", 70],
    ] as const) {
      const own = surface({ part, face: 1 });
      expect(itemAt("form", own, now("vertices"), x, 100)!.item).toBe(2);
      expect(itemAt("form", own, now("faces"), x, 100)).toMatchObject({ face: 1, item: 1 });
      const edge = itemAt("form", own, now("edges"), x, 95)!.item;
      const again = itemAt("form", own, now("edges"), x - 1, 95)!.item;
      expect(edge).toBe(again);
    }
    expect(itemAt("form", surface(), now("faces"), 0, 0)).toBeNull();
  });

  it("in a box are the items seen there, of edges and corners those that lie in it whole", () => {
    const both = surface({ part: "p1", face: 0 }, { part: "p1", face: 1 });
    const left = boxRegion(-1, 89, 11, 101);
    expect(found(itemsSeen("form", both, now("vertices"), left))).toEqual([0, 1, 3, 4]);
    expect(found(itemsSeen("form", both, now("edges"), left))).toHaveLength(4);
    // Of faces more than half: a sliver of the second that is seen in the box does not take it along.
    expect(found(itemsSeen("form", both, now("faces"), left))).toEqual([0]);
    expect(found(itemsSeen("form", both, now("faces"), boxRegion(-1, 89, 16, 101)))).toEqual([0, 1]);
    expect(found(itemsSeen("form", both, now("faces"), boxRegion(-1, 89, 14, 101)))).toEqual([0]);
  });

  it("through what is seen are those of every part that is shown, whichever has them in the box", () => {
    const nothing = surface();
    const onFirst = boxRegion(-1, 89, 11, 101);
    const onSecond = boxRegion(59, 89, 71, 101);
    expect(found(itemsThrough("form", nothing, now("faces"), onFirst))).toEqual([0]);
    expect(found(itemsThrough("form", nothing, now("faces"), onSecond))).toEqual([1]);
    expect(found(itemsThrough("form", nothing, now("faces"), boxRegion(-1, 89, 71, 101)))).toEqual([0, 1]);
    expect(found(itemsThrough("form", nothing, now("faces", ["p2"]), onSecond))).toEqual([]);
  });
});

describe("a lasso about a part of a sphere", () => {
  // Of 24 by 12 quads with poles on y, looked at along z; a hundred pixels to a unit, the middle at 200, 200.
  const [ACROSS, UP] = [24, 12];
  const at = (i: number, j: number) => {
    const [a, b] = [(2 * Math.PI * i) / ACROSS, (Math.PI * j) / UP];
    return [Math.sin(b) * Math.sin(a), Math.cos(b), Math.sin(b) * Math.cos(a)];
  };
  const sphere = meshFromPolygons(
    Array.from({ length: ACROSS * (UP + 1) }, (_, k) => at(k % ACROSS, Math.floor(k / ACROSS))).flat(),
    Array.from({ length: ACROSS * UP }, (_, k) => {
      const [i, j] = [k % ACROSS, Math.floor(k / ACROSS)];
      const next = (i + 1) % ACROSS;
      return [j * ACROSS + i, (j + 1) * ACROSS + i, (j + 1) * ACROSS + next, j * ACROSS + next];
    }),
  );
  const ball = newAsset({ id: "b", name: "Ball", source: { name: "t.made", format: "made" } }, [
    { id: "p1", name: "Ball", mesh: sphere, layouts: [] },
  ]);
  const shape = shapesOf(ball)[0]!.id;
  const facesNumber = ACROSS * UP;
  const middle = (f: number) => {
    const corners = [0, 1, 2, 3].map((c) => 3 * sphere.cornerVertex[4 * f + c]!);
    return [0, 1, 2].map((d) => corners.reduce((sum, v) => sum + sphere.positions[v + d]! / 4, 0));
  };
  const front = Array.from({ length: facesNumber }, (_, f) => f).filter((f) => middle(f)[2]! > 0);
  const eye: Surface = {
    faceAt: () => null,
    // On a ball those in front hide those behind, and nothing else does.
    facesIn: () => front.map((face) => ({ part: "p1", face })),
    pixelMatrix: () => [100, 0, 0, 0, 0, -100, 0, 0, 0, 0, 1, 0, 200, 200, 0, 1],
  };
  const state = { asset: ball, set: ball.sets[0]!.id, kind: "faces" as const, hidden: new Set<string>() };
  const disc = (x: number, radius: number) =>
    lassoRegion(
      Array.from({ length: 90 }, (_, k) => [x + radius * Math.cos(k / 14.3), 200 + radius * Math.sin(k / 14.3)]),
    );

  it("takes what is seen of the whole ball, or through it all there is", () => {
    expect([...itemsSeen("form", eye, state, disc(200, 120)).get(shape)!]).toEqual(front);
    expect(itemsThrough("form", eye, state, disc(200, 120)).get(shape)!.size).toBe(facesNumber);
  });

  it("takes nothing at its border that lies outside with more than half, and the same behind where it goes through", () => {
    for (const x of [200, 250, 290]) {
      const region = disc(x, 60);
      const seen = itemsSeen("form", eye, state, region).get(shape)!;
      const through = itemsThrough("form", eye, state, region).get(shape)!;
      expect(seen.size).toBeGreaterThan(5);
      // Of those in front none that is not seen, and behind as many.
      const ahead = [...through].filter((f) => front.includes(f));
      for (const f of ahead) expect(seen.has(f)).toBe(true);
      expect(through.size).toBe(2 * ahead.length);
      for (const f of seen) {
        const [mx, my] = middle(f) as [number, number];
        // Its middle lies in the line, or as near to it as a quarter of a face is wide.
        expect(Math.hypot(200 + 100 * mx - x, 100 * my)).toBeLessThan(60 + 7);
      }
    }
  });
});
