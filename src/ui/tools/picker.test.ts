import { beforeAll, describe, expect, it } from "vitest";
import { type Asset, type PartId, shapesOf } from "@/core/layout/asset";
import { newAsset } from "@/core/layout/new-asset";
import { meshFromPolygons } from "@/core/mesh/poly-mesh";
import { IDENTITY } from "@/core/mesh/transform";
import type { SelectionKind } from "@/core/operations/operation";
import { itemAt, itemsSeen, itemsThrough, type Surface } from "./picker";
import { boxRegion } from "./region";

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
    // Of faces any pixel is enough, and it is the surface that knows.
    expect(found(itemsSeen("form", both, now("faces"), left))).toEqual([0, 1]);
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
