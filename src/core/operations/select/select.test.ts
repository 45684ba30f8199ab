import { describe, expect, it } from "vitest";
import { assemble, lathe } from "../../../../demo/kit";
import { edit, picking, quiet, shapeAt } from "../../../testing/assets";
import type { Asset } from "../../layout/asset";
import { faceCount } from "../../mesh/poly-mesh";
import { topologyOf } from "../../mesh/topology";
import type { Scope } from "../operation";
import { runSelect } from "../run";
import { everything } from "../scope";

/** A drum of 8 sides, 4 rings of quads high, closed by two n-gons. */
const drum = (): Asset =>
  assemble(
    "Drum",
    "cm",
    [],
    [
      {
        name: "Drum",
        shape: lathe(
          [0, 1, 2, 3, 4].map((y): [number, number] => [2, y]),
          8,
        ),
      },
    ],
  );
const asset = drum();
const { mesh } = shapeAt(asset);
const t = topologyOf(mesh);
const height = (v: number) => mesh.positions[3 * v + 1]!;
const ends = (e: number) => [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!] as const;
const edgesWhere = (is: (a: number, b: number) => boolean) =>
  Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) => is(height(ends(e)[0]), height(ends(e)[1])));

const pick = async (id: string, scope: Scope, options: unknown = {}, of = asset) => {
  const { selection, words } = await runSelect(of, id, options, scope, quiet);
  return { kind: selection.kind, items: [...(selection.items.values().next().value ?? [])], words };
};

describe("picking", () => {
  const level = edgesWhere((a, b) => a === 2 && b === 2);
  const upright = edgesWhere((a, b) => a !== b);

  it("goes along loops and across rings", async () => {
    const loop = await pick("pick-loops", picking(asset, "edges", [level[0]!]));
    expect(loop).toEqual({ kind: "edges", items: level, words: "8 edges picked." });
    // Upright edges go up to the rims, where three edges meet.
    expect((await pick("pick-loops", picking(asset, "edges", [upright[0]!]))).items).toHaveLength(4);
    const ring = await pick("pick-rings", picking(asset, "edges", [upright[0]!]));
    expect(ring.items).toHaveLength(8);
    expect(new Set(ring.items.map((e) => Math.min(...ends(e).map(height))))).toHaveLength(1);
    expect((await pick("pick-rings", picking(asset, "edges", [level[0]!]))).items).toHaveLength(5);
  });

  it("joins what is picked by the shortest ways, and leaves what none leads to", async () => {
    // Two upright edges of one line with one between them, and one a side further on.
    const line = upright.filter((e) => ends(e)[0] % 8 === ends(upright[0]!)[0] % 8);
    const [low, high] = [line[0]!, line.at(-1)!];
    const path = await pick("pick-path", picking(asset, "edges", [low, high]));
    expect(path.items).toEqual(line);
    const lone = await pick("pick-path", picking(asset, "edges", [low]));
    expect(lone.items).toEqual([low]);
    const three = await pick("pick-path", picking(asset, "edges", [low, high, level[4]!]));
    expect(three.items).toEqual(expect.arrayContaining([...line, level[4]!]));
    // A tree: every vertex but one has an edge of its own.
    expect(new Set(three.items.flatMap((e) => ends(e)))).toHaveLength(three.items.length + 1);
  });

  it("finds sharp edges and seams, on what is picked or on everything visible", async () => {
    const rims = edgesWhere((a, b) => a === b && (a === 0 || a === 4));
    expect((await pick("pick-sharp", everything(asset))).items).toEqual(rims);
    expect((await pick("pick-sharp", everything(asset), { angle: 40 })).items).toHaveLength(
      rims.length + upright.length,
    );
    expect((await pick("pick-seams", everything(asset))).words).toBe("0 edges picked.");
    const cut = await edit(asset, "cut", {}, picking(asset, "edges", level));
    expect((await pick("pick-seams", everything(cut), {}, cut)).items).toEqual(level);
  });

  it("grows, shrinks and takes what hangs together", async () => {
    expect((await pick("grow", picking(asset, "vertices", [0]))).items).toHaveLength(4);
    const faces = await pick("pick-connected", picking(asset, "faces", [0]));
    expect(faces.items).toHaveLength(faceCount(mesh));
    expect((await pick("shrink", picking(asset, "faces", [0]))).words).toBe("0 faces picked.");
  });

  it("says what must be picked first", async () => {
    await expect(pick("grow", everything(asset))).rejects.toThrow("Pick vertices or edges or faces or shells first.");
    await expect(pick("pick-loops", picking(asset, "faces", [0]))).rejects.toThrow("Pick edges first.");
  });
});
