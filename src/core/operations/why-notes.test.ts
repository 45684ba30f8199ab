import { describe, expect, it } from "vitest";
import { assetOf, edit, layoutAt, picking, quiet, shapeAt } from "../../testing/assets";
import type { Asset } from "../layout/asset";
import { setBit } from "../layout/bits";
import { emptyLayout, structureOf, withBits } from "../layout/layout";
import { newAsset } from "../layout/new-asset";
import { pointNames } from "../layout/point-names";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { IDENTITY } from "../mesh/transform";
import { runEdit } from "./run";
import { everything } from "./scope";

/** A row of N squares bent up at every second edge. */
const N = 4;
const mesh = meshFromPolygons(
  Array.from({ length: N + 1 }, (_, i) => [0, 1].flatMap((j) => [i, j, (i % 2) * 0.8])).flat(),
  Array.from({ length: N }, (_, i) => [2 * i, 2 * i + 2, 2 * i + 3, 2 * i + 1]),
);
const t = topologyOf(mesh);
/** The edge between the second and the third square. */
const middle = Array.from({ length: t.edgeCount }, (_, e) => e).find(
  (e) => t.edgeVertices[2 * e]! >> 1 === 2 && t.edgeVertices[2 * e + 1]! >> 1 === 2,
)!;
const cutInTwo = (): Asset => {
  const bits = emptyLayout(mesh).cut.slice();
  setBit(bits, middle);
  return assetOf(mesh, withBits(mesh, emptyLayout(mesh), bits));
};
const notesOf = async (asset: Asset, options: object, scope = everything(asset)) =>
  (await runEdit(asset, "unfold", options, scope, quiet)).result.notes;

describe("why an unfolding came out as it did", () => {
  it("tells of picked faces that a seam parts into two shells, with the seam lit and the cure", async () => {
    const asset = cutInTwo();
    const [note, ...others] = await notesOf(asset, {}, picking(asset, "faces", [1, 2]));
    expect(others).toEqual([]);
    expect(note).toMatchObject({ words: expect.stringContaining("lies in two shells"), offer: "join" });
    expect([...note!.edges!.edges]).toEqual([middle]);
    expect(note!.shells).toHaveLength(2);
    // Not where they lie in one, or lie apart, or all is meant.
    for (const scope of [picking(asset, "faces", [0, 1]), picking(asset, "faces", [0, 3]), everything(asset)])
      expect(await notesOf(asset, {}, scope)).toEqual([]);
  });

  it("tells of a shell that is stretched still since it went along one axis", async () => {
    const laid = await edit(assetOf(mesh), "unfold");
    // All points beyond the middle of it, drawn out along u.
    const { uv } = layoutAt(laid);
    const us = uv.filter((_, i) => i % 2 === 0);
    const [low, high] = [Math.min(...us), Math.max(...us)];
    const beyond = pointNames(structureOf(mesh, layoutAt(laid))).filter((_, w) => uv[2 * w]! > (low + high) / 2);
    const squeezed = await edit(laid, "move-points", { du: high - low }, picking(laid, "points", beyond));
    const words = (await notesOf(squeezed, { along: "v" })).map((n) => n.words);
    expect(words).toEqual([expect.stringContaining("could open along v alone")]);
    expect(await notesOf(laid, { along: "u" })).toEqual([]);
    expect(await notesOf(squeezed, { along: "both" })).toEqual([]);
  });

  it("tells of parts that share a layout and are scaled unlike each other", async () => {
    const scaled = (x: number, y: number) => IDENTITY.map((value, i) => (i === 0 ? x : i === 5 ? y : value));
    const shared = (transform: readonly number[]): Asset => {
      const one = newAsset({ id: "a", name: "Test", unit: "cm", source: { name: "t.made", format: "made" } }, [
        { id: "p1", name: "First", mesh, transform: IDENTITY, layouts: [emptyLayout(mesh)] },
      ]);
      return { ...one, parts: [one.parts[0]!, { ...one.parts[0]!, id: "p2", name: "Second", transform }] };
    };
    const [note] = await notesOf(shared(scaled(0.5, 0.2)), {});
    expect(note!.words).toContain("differs on Second");
    // Larger or smaller as a whole is no matter.
    expect(await notesOf(shared(IDENTITY.map((x, i) => (i < 15 ? 0.5 * x : x))), {})).toEqual([]);
  });

  it("tells of a shell that came along whole since nothing of it is pinned", async () => {
    const laid = await edit(assetOf(mesh), "unfold");
    const scope = picking(laid, "points", [0]);
    const pulled = await runEdit(laid, "pull-points", { du: 0.01 }, scope, quiet);
    expect(pulled.result.notes[0]!.words).toContain("has no pins and came along whole");
    const pinned = await edit(laid, "pin", {}, picking(laid, "points", [14]));
    expect((await runEdit(pinned, "pull-points", { du: 0.001 }, scope, quiet)).result.notes).toEqual([]);
    expect(layoutAt(laid).uv.length).toBe(2 * (shapeAt(laid).mesh.positions.length / 3));
  });
});
