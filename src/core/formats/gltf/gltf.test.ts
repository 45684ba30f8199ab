import { describe, expect, it } from "vitest";
import { brassBalance } from "../../../../demo/models/brass-balance";
import { laidOutModel, shapeAt } from "../../../testing/assets";
import { measure } from "../../check/measure";
import { runEdit } from "../../operations/run";
import { everything } from "../../operations/scope";
import { readAsset } from "../read-asset";
import { readGltf } from "./read";
import { writeGlb } from "./write";

const quiet = { progress: () => {} };
const text = (json: unknown) => new TextEncoder().encode(JSON.stringify(json));

/** Two triangles that share an edge by position only, in one buffer of text. */
function twoTriangles(extra: { indices?: number[]; positions?: number[] } = {}) {
  const positions = new Float32Array(extra.positions ?? [0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0]);
  const indices = new Uint16Array(extra.indices ?? [0, 1, 2, 3, 4, 5]);
  const bytes = new Uint8Array(positions.byteLength + indices.byteLength);
  bytes.set(new Uint8Array(positions.buffer));
  bytes.set(new Uint8Array(indices.buffer), positions.byteLength);
  return {
    asset: { version: "2.0" },
    scene: 0,
    scenes: [{ nodes: [0] }],
    nodes: [
      { mesh: 0, name: "Leaf", children: [1] },
      { mesh: 0, name: "Leaf again", translation: [3, 0, 0] },
    ],
    meshes: [{ primitives: [{ attributes: { POSITION: 0 }, indices: 1 }] }],
    accessors: [
      { bufferView: 0, componentType: 5126, count: positions.length / 3, type: "VEC3", min: [0, 0, 0], max: [1, 1, 0] },
      { bufferView: 1, componentType: 5123, count: indices.length, type: "SCALAR" },
    ],
    bufferViews: [
      { buffer: 0, byteOffset: 0, byteLength: positions.byteLength },
      { buffer: 0, byteOffset: positions.byteLength, byteLength: indices.byteLength },
    ],
    buffers: [
      {
        byteLength: bytes.length,
        uri: `data:application/octet-stream;base64,${Buffer.from(bytes).toString("base64")}`,
      },
    ],
  };
}

describe("reading glTF", () => {
  it("joins vertices at exactly the same position, and knows instances", async () => {
    const asset = await readGltf(text(twoTriangles()), { name: "leaf.gltf" });
    expect(asset.parts.map((p) => [p.name, p.shape])).toEqual([
      ["Leaf", "p1"],
      ["Leaf again", "p1"],
    ]);
    expect(shapeAt(asset, 0).mesh.positions).toHaveLength(12);
    expect(measure(asset)).toMatchObject({ shells: 0, allShells: 1, cornersWithoutUv: 6 });
    expect(asset.parts[1]!.transform[12]).toBe(3);
  });

  it.each([
    [new Uint8Array(0), "is empty"],
    [text({ hello: 1 }), "not a glTF file that can be read"],
    [new TextEncoder().encode("glTF but not really"), "not a GLB file that can be read"],
    [
      text({ ...twoTriangles(), buffers: [{ byteLength: 84, uri: "leaf.bin" }] }),
      "refers to leaf.bin, which did not come along",
    ],
    [text(twoTriangles({ indices: [0, 1, 2, 3, 4, 9] })), "names vertex 9 of 6"],
    [
      text(twoTriangles({ positions: [0, 0, 0, Number.NaN, 0, 0, 0, 1, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0] })),
      "without a finite position",
    ],
    [text({ ...twoTriangles(), scenes: [{ nodes: [] }] }), "holds no triangles"],
  ])("refuses what cannot be read (%#)", async (bytes, words) => {
    await expect(readGltf(bytes, { name: "leaf.gltf" })).rejects.toThrow(words);
  });

  it("knows files by their ending", async () => {
    await expect(readAsset(new Uint8Array(4), { name: "leaf.blob" })).rejects.toThrow(
      "of a kind that cannot be opened; bring .obj, .glb, .gltf",
    );
  });
});

describe("writing GLB", () => {
  it("keeps instances, transforms, materials and names", async () => {
    const made = await laidOutModel(brassBalance);
    const back = await readGltf((await writeGlb(made)).bytes, { name: "balance.glb" });
    expect(back.parts.map((p) => p.name)).toEqual(made.parts.map((p) => p.name));
    expect(back.materials.map((m) => m.name)).toEqual(made.materials.map((m) => m.name));
    back.parts.forEach((p, i) => {
      p.transform.forEach((x, k) => {
        // The balance is in centimetres, glTF in metres.
        expect(x).toBeCloseTo(made.parts[i]!.transform[k]! * (k % 4 < 3 ? 0.01 : 1), 7);
      });
    });
    expect(measure(back).mirroredShells).toBe(0);
  });

  it("changes nothing but coordinates in the file it came from", async () => {
    const asset = await readGltf(text(twoTriangles()), { name: "leaf.gltf" });
    const unfolded = (await runEdit(asset, "unfold", {}, everything(asset), quiet)).asset;
    const back = await readGltf((await writeGlb(unfolded)).bytes, { name: "leaf.glb" });
    expect(back.parts.map((p) => p.name)).toEqual(["Leaf", "Leaf again"]);
    expect(shapeAt(back, 0).mesh.positions).toEqual(shapeAt(asset, 0).mesh.positions);
    expect(measure(back)).toMatchObject({ shells: 1, cornersWithoutUv: 0, flippedTriangles: 0 });
  });
});
