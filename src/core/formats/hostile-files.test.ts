import { strToU8, zipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { layoutAt, shapeAt } from "../../testing/assets";
import { shapesOf } from "../layout/asset";
import { UserError } from "../layout/user-error";
import { faceCount } from "../mesh/poly-mesh";
import { readLayoutFile } from "./layout-file";
import { readAsset, readAssets } from "./read-asset";
import { findBeside } from "./read-options";
import { cleanName } from "./sanitize";

// A file may lie about every count, length and name: what it says must never take more memory than its bytes warrant,
// and the answer is one sentence.

const file = (name: string, text: string | Uint8Array = "x") => ({
  name,
  bytes: typeof text === "string" ? strToU8(text) : text,
});
const read = (name: string, text: string | Uint8Array) => readAsset(file(name, text).bytes, { name });
const TRIANGLE = "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n";

/** A glTF of one triangle mesh, with its JSON changed. */
function gltf(change: (json: ReturnType<typeof plain>) => void, bytes = new Uint8Array(36)): string {
  const json = plain(bytes);
  change(json);
  return JSON.stringify(json);
}
const plain = (bytes: Uint8Array) => ({
  asset: { version: "2.0" },
  scene: 0,
  scenes: [{ nodes: [0] }],
  nodes: [{ mesh: 0, name: "Jar" }],
  meshes: [{ primitives: [{ attributes: { POSITION: 0 } as Record<string, number> }] }],
  accessors: [{ bufferView: 0 as number | undefined, byteOffset: 0, componentType: 5126, count: 3, type: "VEC3" }],
  bufferViews: [{ buffer: 0, byteLength: bytes.length } as Record<string, unknown>],
  buffers: [
    { byteLength: bytes.length, uri: `data:application/octet-stream;base64,${Buffer.from(bytes).toString("base64")}` },
  ],
});
const points = new Uint8Array(new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]).buffer);

describe("references to other files", () => {
  it("mean a file of the same name, never one whose name only ends alike", () => {
    const beside = [file("driftwood.png"), file("wood.png"), file("cellar/wood.png")];
    expect(findBeside(beside, "wood.png")?.name).toBe("wood.png");
    expect(findBeside(beside, "Cellar\\Wood.PNG")?.name).toBe("cellar/wood.png");
    expect(findBeside(beside, "C:/stall/textures/wood.png")?.name).toBe("wood.png");
    expect(findBeside([file("driftwood.png")], "wood.png")).toBeUndefined();
    expect(findBeside(beside, "")).toBeUndefined();
    expect(findBeside(beside, "./")).toBeUndefined();
  });

  it("take the right buffer of two whose names end alike", async () => {
    const text = gltf((json) => Object.assign(json.buffers[0]!, { uri: "y.bin" }), points);
    const files = [file("body.bin", new Uint8Array(36)), file("y.bin", points), file("jar.gltf", text)];
    const [asset] = await readAssets(files);
    expect([...shapeAt(asset!).mesh.positions]).toEqual([0, 0, 0, 1, 0, 0, 0, 1, 0]);
  });
});

describe("archives", () => {
  it("leave out what a desktop system put there for itself", async () => {
    const zip = zipSync({
      "a.obj": strToU8(TRIANGLE),
      "__MACOSX/._a.obj": new Uint8Array([0, 5, 22, 7]),
      ".DS_Store": new Uint8Array(9),
    });
    expect((await readAssets([file("stall.zip", zip)])).map((a) => a.name)).toEqual(["a"]);
  });
});

describe("glTF that lies about its counts", () => {
  const refused: Array<[string, string]> = [
    ["a count beyond the bytes, without indices", gltf((j) => Object.assign(j.accessors[0]!, { count: 4e9 }), points)],
    [
      "a count without any bytes",
      gltf((j) => Object.assign(j.accessors[0]!, { count: 4e9, bufferView: undefined }), points),
    ],
    [
      "elements that lie over each other",
      gltf((j) => {
        Object.assign(j.bufferViews[0]!, { byteStride: 0 });
        Object.assign(j.accessors[0]!, { count: 1e12 });
      }, points),
    ],
    [
      "no elements, at an offset beyond the bytes",
      gltf((j) => Object.assign(j.accessors[0]!, { count: 0, byteOffset: 4096 }), points),
    ],
    [
      "forty primitives without bytes",
      gltf((j) => {
        j.meshes[0]!.primitives = Array.from({ length: 40 }, () => ({ attributes: { POSITION: 0 } }));
        Object.assign(j.accessors[0]!, { count: 50_000_000, bufferView: undefined });
      }, points),
    ],
    [
      "a compressed view far beyond its bytes",
      gltf(
        (j) =>
          Object.assign(j.bufferViews[0]!, {
            extensions: {
              EXT_meshopt_compression: { buffer: 0, byteLength: 36, byteStride: 256, count: 4e9, mode: "ATTRIBUTES" },
            },
          }),
        points,
      ),
    ],
  ];
  it.each(refused)("is refused: %s", async (_, text) => {
    await expect(read("jar.gltf", text)).rejects.toThrow(/damaged/);
  });

  it("is refused with more coordinate sets than an asset may have", async () => {
    const text = gltf((j) => {
      for (let n = 0; n < 33; n++) j.meshes[0]!.primitives[0]!.attributes[`TEXCOORD_${n}`] = 1;
      j.accessors.push({ ...j.accessors[0]!, type: "VEC2" });
    }, points);
    await expect(read("jar.gltf", text)).rejects.toThrow("more than 32 coordinate sets");
  });
});

describe("layouts written alone that lie about their counts", () => {
  const layout = (part: object) =>
    strToU8(
      JSON.stringify({
        tavlinLayout: 1,
        sets: [{ id: "s1", name: "UV", purpose: "unique" }],
        parts: [{ name: "Jar", sets: [null], ...part }],
      }),
    );
  it("are refused for vertices they cannot hold", () => {
    const bytes = layout({ vertices: 200_000_000, faceSizes: [3], corners: [0, 1, 2] });
    expect(() => readLayoutFile(bytes, { name: "l.json" })).toThrow("more vertices than it can hold");
  });
  it("are refused for face sizes that would wrap round", () => {
    const bytes = layout({ vertices: 3, faceSizes: [4294967200, 99], corners: [0, 1, 2] });
    expect(() => readLayoutFile(bytes, { name: "l.json" })).toThrow("do not fit together");
  });
});

describe("text that breaks off or uses odd words", () => {
  it("is refused: an STL solid that ends within a triangle", async () => {
    const text =
      "solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nvertex 1 1 1\nendsolid\n";
    await expect(read("a.stl", text)).rejects.toThrow("ends within a triangle");
  });
  it("is refused: a PLY element that stands there twice", async () => {
    const head =
      "ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\nproperty float z\nelement vertex 1\n";
    await expect(read("a.ply", `${head}end_header\n0 0 0\n`)).rejects.toThrow("stands there twice");
  });
  it("is refused: a PLY type named like a method", async () => {
    const head =
      "ply\nformat ascii 1.0\nelement face 1\nproperty list toString uchar vertex_indices\nend_header\n3 0 1 2\n";
    await expect(read("a.ply", head)).rejects.toThrow("no known type");
  });
  it("is refused: a binary PLY with more vertices than bytes for them", async () => {
    const head =
      "ply\nformat binary_little_endian 1.0\nelement vertex 100\nproperty double x\nproperty double y\nproperty double z\nend_header\n";
    await expect(read("a.ply", `${head}${"0".repeat(400)}`)).rejects.toThrow("ends too early");
  });
});

describe("numbers beyond the arithmetic", () => {
  it("are refused as positions", async () => {
    await expect(read("a.obj", TRIANGLE.replace("1 0 0", "1e308 0 0"))).rejects.toThrow(
      "vertex 1 of a lies beyond 1e+30",
    );
  });
  it("count as missing as coordinates", async () => {
    const text = `${TRIANGLE.replace("f 1 2 3", "vt 1e308 0\nvt 1 0\nvt 0 1\nf 1/1 2/2 3/3")}`;
    const asset = await read("a.obj", text);
    expect(layoutAt(asset, 0, 0).mapped[0]).toBe(0);
  });
});

describe("names", () => {
  it("lose what no database and no XML can hold, and what is too long", () => {
    expect(cleanName("a\0b\u0001\ufffe\ud800c")).toBe("a\ufffdb\ufffd\ufffd\ufffdc");
    expect(cleanName("\u{1f9c4}").length).toBe(2);
    expect(cleanName("x".repeat(5000))).toHaveLength(1000);
  });
  it("are cleaned wherever a file brings them", async () => {
    const text = gltf((j) => Object.assign(j.nodes[0]!, { name: `Jar\0${"x".repeat(2000)}` }), points);
    const { parts } = await read("jar.gltf", text);
    expect(parts[0]!.name).toHaveLength(1000);
    expect(parts[0]!.name).not.toContain("\0");
  });
});

describe("an OBJ with an object and a group for each of many things", () => {
  it("grows with its size: every part holds its own groups only", async () => {
    const one = (i: number) => `o jar${i}\ng glaze${i}\nv 0 0 ${i}\nv 1 0 ${i}\nv 0 1 ${i}\nf -3 -2 -1\n`;
    const asset = await read("jars.obj", Array.from({ length: 500 }, (_, i) => one(i)).join(""));
    expect(asset.parts).toHaveLength(500);
    expect(shapesOf(asset).every((p, i) => p.mesh.groups.join() === `glaze${i}` && p.mesh.faceGroup[0] === 0)).toBe(
      true,
    );
    expect(shapesOf(asset).reduce((n, p) => n + faceCount(p.mesh), 0)).toBe(500);
  });
});

it("refusals are sentences for people", async () => {
  await expect(read("a.stl", "")).rejects.toBeInstanceOf(UserError);
});
