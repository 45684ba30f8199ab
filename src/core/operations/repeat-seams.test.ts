import { describe, expect, it } from "vitest";
import { assemble, box, type Shape } from "../../../demo/kit";
import { edit, layoutAt, pickingParts, shapeAt } from "../../testing/assets";
import type { Asset } from "../layout/asset";
import { placesOfBits } from "../layout/bits";
import { structureOf } from "../layout/layout";
import { topologyOf } from "../mesh/topology";

/** A wedge-shaped block, so that no side is like another. */
function block(): Shape {
  const s = box([3, 2, 1], [3, 2, 1]);
  return {
    ...s,
    points: s.points.map(([x, y, z]) => [x + 0.3 * y, y * (1 + 0.1 * x), z + 0.05 * x * y] as [number, number, number]),
  };
}
/** The same with its points turned about, mirrored or numbered otherwise. */
const moved = (s: Shape, map: (p: readonly number[]) => [number, number, number]): Shape => ({
  ...s,
  points: s.points.map(map),
});
const renumbered = (s: Shape): Shape => {
  const n = s.points.length;
  return {
    ...s,
    points: [...s.points].reverse(),
    faces: [...s.faces].reverse().map((f) => f.map((v) => n - 1 - v)),
  };
};
const mirrored = (s: Shape): Shape => ({
  ...moved(s, ([x, y, z]) => [-x!, y!, z!]),
  faces: s.faces.map((f) => [...f].reverse()),
});

const stall = (): Asset =>
  assemble(
    "Stall",
    "cm",
    [],
    [
      { name: "Block", shape: block() },
      { name: "Turned", shape: moved(block(), ([x, y, z]) => [z!, x!, y!]) },
      { name: "Mirrored", shape: mirrored(block()) },
      { name: "Numbered otherwise", shape: renumbered(block()) },
      { name: "Another", shape: box([2, 2, 2], [2, 2, 2]) },
    ],
  );

/** Lengths of seams, sorted: the same on twins, wherever they stand. */
function lengths(asset: Asset, i: number): string {
  const { mesh } = shapeAt(asset, i);
  const { edgeVertices } = topologyOf(mesh);
  const at = (v: number) => mesh.positions.subarray(3 * v, 3 * v + 3);
  return [...placesOfBits(layoutAt(asset, i)?.cut ?? new Uint8Array(0))]
    .map((e) => {
      const [a, b] = [at(edgeVertices[2 * e]!), at(edgeVertices[2 * e + 1]!)];
      return Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!, a[2]! - b[2]!).toFixed(4);
    })
    .sort()
    .join();
}

describe("seams repeated on twins", () => {
  it("are the same on parts that are turned, mirrored or numbered otherwise, and on no other", async () => {
    const source = stall();
    const first = source.parts[0]!.id;
    const seamed = await edit(source, "creased", {}, pickingParts(source, [first]));
    const repeated = await edit(seamed, "repeat-seams", {}, pickingParts(seamed, [first]));
    expect(lengths(repeated, 0).length).toBeGreaterThan(0);
    for (const i of [1, 2, 3]) expect(lengths(repeated, i)).toBe(lengths(repeated, 0));
    expect(lengths(repeated, 4)).toBe("");
    await expect(edit(repeated, "repeat-seams", {}, pickingParts(repeated, [first]))).rejects.toThrow(
      "have its seams already",
    );
  });

  it("join what is seam on a twin alone, whose shells are brought together", async () => {
    const source = stall();
    const [first, , , fourth] = source.parts.map((p) => p.id);
    const both = pickingParts(source, [first!, fourth!]);
    const laid = await edit(await edit(source, "creased", {}, both), "unfold", {}, both);
    const opened = await edit(laid, "assemble", { wish: 1, limit: 1.5 }, pickingParts(laid, [first!]));
    const repeated = await edit(opened, "repeat-seams", {}, pickingParts(opened, [first!]));
    expect(lengths(repeated, 3)).toBe(lengths(repeated, 0));
    const shells = (i: number) => structureOf(shapeAt(repeated, i).mesh, layoutAt(repeated, i)).shellCount;
    expect(shells(3)).toBe(shells(0));
    expect(shells(0)).toBeLessThan(6);
  });

  it("are refused where there is nothing to repeat, or nobody to repeat it on", async () => {
    const source = stall();
    const pick = (...names: string[]) =>
      pickingParts(
        source,
        source.parts.filter((p) => names.includes(p.name)).map((p) => p.id),
      );
    await expect(edit(source, "repeat-seams", {}, pick("Block"))).rejects.toThrow("Block has no seams yet.");
    await expect(edit(source, "repeat-seams")).rejects.toThrow("Pick the part");
    const other = await edit(source, "creased", {}, pick("Another"));
    await expect(edit(other, "repeat-seams", {}, pick("Another"))).rejects.toThrow(
      "No other part in view is joined like Another.",
    );
  });
});
