import fc from "fast-check";
import { strToU8, zipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { paperLantern } from "../../../demo/models/paper-lantern";
import { pepperMill } from "../../../demo/models/pepper-mill";
import { laidOut, laidOutModel, layoutAt, shapeAt } from "../../testing/assets";
import { measure } from "../check/measure";
import { type Asset, drawnParts, shapesOf } from "../layout/asset";
import { structureOf } from "../layout/layout";
import { runEdit } from "../operations/run";
import { everything } from "../operations/scope";
import { readLayoutFile, writeLayoutFile } from "./layout-file";
import { readPly } from "./ply-read";
import { writePly } from "./ply-write";
import { readAssets } from "./read-asset";
import { readStl } from "./stl-read";
import { unzip } from "./unzip";

const quiet = { progress: () => {} };
const edit = async (asset: Asset, id: string, options: unknown = {}) =>
  (await runEdit(asset, id, options, everything(asset), quiet)).asset;
const text = (lines: readonly string[]) => strToU8(`${lines.join("\n")}\n`);

/** A PLY of two triangles and a square, coordinates per vertex, in any of the three formats. */
function ply(format: "ascii" | "binary_little_endian" | "binary_big_endian", uv = true): Uint8Array {
  const points = [
    [0, 0, 0, 0, 0],
    [1, 0, 0, 1, 0],
    [0, 1, 0, 0, 1],
    [1, 1, 0.5, 1, 1],
  ];
  const faces = [
    [0, 1, 2],
    [1, 3, 2],
    [0, 2, 3, 1],
  ];
  const header = text([
    "ply",
    `format ${format} 1.0`,
    "comment from the stall",
    "element vertex 4",
    ...["x", "y", "z"].map((n) => `property float ${n}`),
    ...(uv ? ["property double s", "property double t"] : []),
    "property uchar heat",
    "element face 3",
    "property uchar flags",
    "property list uchar int vertex_indices",
    "element smell 2",
    "property list ushort short notes",
    "end_header",
  ]);
  if (format === "ascii") {
    const rows = [
      ...points.map((p) => `${(uv ? p : p.slice(0, 3)).join(" ")} 9`),
      ...faces.map((f) => `1 ${f.length} ${f.join(" ")}`),
      "2 5 6",
      "0",
    ];
    return new Uint8Array([...header, ...text(rows)]);
  }
  const little = format === "binary_little_endian";
  const body = new DataView(new ArrayBuffer(400));
  let at = 0;
  const put = (size: number, act: (at: number) => void) => {
    act(at);
    at += size;
  };
  for (const p of points) {
    for (const x of p.slice(0, 3)) put(4, (a) => body.setFloat32(a, x, little));
    if (uv) for (const x of p.slice(3)) put(8, (a) => body.setFloat64(a, x, little));
    put(1, (a) => body.setUint8(a, 9));
  }
  for (const f of faces) {
    put(1, (a) => body.setUint8(a, 1));
    put(1, (a) => body.setUint8(a, f.length));
    for (const v of f) put(4, (a) => body.setInt32(a, v, little));
  }
  for (const list of [[5, 6], []]) {
    put(2, (a) => body.setUint16(a, list.length, little));
    for (const x of list) put(2, (a) => body.setInt16(a, x, little));
  }
  return new Uint8Array([...header, ...new Uint8Array(body.buffer, 0, at)]);
}

describe("PLY", () => {
  it.each(["ascii", "binary_little_endian", "binary_big_endian"] as const)(
    "reads %s, with and without coordinates",
    (format) => {
      const leaf = readPly(ply(format), { name: "leaf.ply" });
      const { mesh } = shapeAt(leaf);
      expect(Array.from(mesh.cornerVertex)).toEqual([0, 1, 2, 1, 3, 2, 0, 2, 3, 1]);
      expect(Array.from(mesh.positions.subarray(9))).toEqual([1, 1, 0.5]);
      expect(measure(readPly(ply(format), { name: "leaf.ply" })).cornersWithoutUv).toBe(0);
      expect(layoutAt(leaf).mapped).toEqual(Uint8Array.of(7));
      expect(measure(readPly(ply(format, false), { name: "leaf.ply" })).cornersWithoutUv).toBe(10);
    },
  );

  it("brings any layout through, to the last bit", async () => {
    const laid = await laidOutModel(paperLantern);
    await fc.assert(
      fc.asyncProperty(
        fc.double({ min: -9, max: 9, noNaN: true }),
        fc.double({ min: -180, max: 180, noNaN: true }),
        async (du, turn) => {
          const moved = await edit(laid, "move", { du, turn });
          const bytes = writePly(moved);
          const back = readPly(bytes, { name: "lantern.ply" });
          expect(writePly(back)).toEqual(bytes);
          const points = (a: Asset) =>
            drawnParts(a).flatMap((p) => {
              const set = p.layouts.get("s1")!;
              return Array.from(structureOf(p.mesh, set).cornerWedge, (w) => set.uv[2 * w]! + 0);
            });
          expect(points(back)).toEqual(points(moved));
        },
      ),
      { numRuns: 5 },
    );
  });

  it.each([
    [strToU8("plx\n"), "does not begin"],
    [text(["ply", "format ascii 9", "element vertex 1"]), "does not end"],
    [text(["ply", "format strange 1.0", "end_header"]), "the format strange is not known"],
    [
      text(["ply", "format ascii 1.0", "element vertex 2", "property float x", "end_header", "1", "2"]),
      "without x, y and z",
    ],
    [ply("ascii").slice(0, -12), "ends too early"],
    [ply("binary_big_endian").slice(0, 320), "ends too early"],
    [strToU8(new TextDecoder().decode(ply("ascii")).replace("0 1 2\n", "0 1 7\n")), "names vertex 7 of 4"],
    [strToU8(new TextDecoder().decode(ply("ascii")).replace("1 0 0 1 0", "1 nan 0 1 0")), "where a number belongs"],
    [
      text(["ply", "format binary_little_endian 1.0", "element vertex 4000000000", "property float x", "end_header"]),
      "ends too early",
    ],
  ])("refuses what cannot be read (%#)", (bytes, words) => {
    expect(() => readPly(bytes, { name: "leaf.ply" })).toThrow(words);
  });
});

/** A tetrahedron as STL. */
const CORNERS = [
  [0, 0, 0],
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];
const SIDES = [
  [0, 2, 1],
  [0, 1, 3],
  [1, 2, 3],
  [2, 0, 3],
];
function stlBinary(): Uint8Array {
  const view = new DataView(new ArrayBuffer(84 + 50 * SIDES.length));
  view.setUint32(80, SIDES.length, true);
  SIDES.flat().forEach((v, k) => {
    CORNERS[v]!.forEach((x, d) => {
      view.setFloat32(84 + 50 * Math.floor(k / 3) + 12 + 12 * (k % 3) + 4 * d, x, true);
    });
  });
  return new Uint8Array(view.buffer);
}
const stlText = (solids: readonly string[]) =>
  text(
    solids.flatMap((name) => [
      `solid ${name}`,
      ...SIDES.flatMap((s) => [
        "facet normal 0 0 0",
        " outer loop",
        ...s.map((v) => `  vertex ${CORNERS[v]!.join(" ")}`),
        " endloop",
        "endfacet",
      ]),
      `endsolid ${name}`,
    ]),
  );

describe("STL", () => {
  it("joins corners at exactly the same place and nothing else", () => {
    for (const bytes of [stlBinary(), stlText(["pyramid"])]) {
      const { mesh } = shapeAt(readStl(bytes, { name: "pyramid.stl" }));
      expect(mesh.positions).toHaveLength(12);
      expect(mesh.faceStart).toHaveLength(5);
    }
    expect(readStl(stlText(["left", "right"]), { name: "two.stl" }).parts.map((p) => p.name)).toEqual([
      "left",
      "right",
    ]);
  });

  it.each([
    [new Uint8Array(40), "too short"],
    [stlBinary().slice(0, 200), "ends too early"],
    [stlText(["a"]).slice(0, -10), "its last solid is not closed"],
    [strToU8("solid x\nvertex 0 0\n"), "lacks a number"],
    [strToU8("solid nothing\nendsolid\n"), "holds no triangles"],
  ])("refuses what cannot be read (%#)", (bytes, words) => {
    expect(() => readStl(bytes, { name: "x.stl" })).toThrow(words);
  });
});

describe("files that come together", () => {
  const obj = strToU8(
    "mtllib stall.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nusemtl Cloth\nf 1/1 2/2 3/3\n",
  );
  const mtl = strToU8("newmtl Cloth\nKd 1 0.5 0\nmap_Kd -s 2 2 1 -clamp on cloths\\red cloth.png\n");
  const png = Uint8Array.of(137, 80, 78, 71, 1, 2, 3);

  it("takes materials and images along, out of a zip as well", async () => {
    const files = { "stall/awning.obj": obj, "stall/stall.mtl": mtl, "stall/cloths/red cloth.png": png };
    const zipped = await readAssets([{ name: "awning.zip", bytes: zipSync(files) }]);
    const loose = await readAssets(
      Object.entries(files).map(([name, bytes]) => ({ name: name.split("/").pop()!, bytes })),
    );
    for (const [asset] of [zipped, loose]) {
      expect(asset!.name).toBe("awning");
      expect(asset!.materials[0]).toMatchObject({ name: "Cloth", texture: { set: "s1" } });
      expect(asset!.materials[0]!.color[1]).toBeCloseTo(0.214, 3);
      expect(asset!.images).toEqual([
        { key: asset!.materials[0]!.texture!.image, name: "red cloth.png", type: "image/png" },
      ]);
      expect(asset!.files![asset!.images[0]!.key]).toEqual(png);
    }
  });

  it("reads several meshes as several assets", async () => {
    const both = await readAssets([
      { name: "a.obj", bytes: obj },
      { name: "b.stl", bytes: stlBinary() },
    ]);
    expect(both.map((a) => a.name)).toEqual(["a", "b"]);
  });

  it.each([
    [[{ name: "../../a.obj", bytes: obj }], "is not a plain file name"],
    [[{ name: "C:\\a.obj", bytes: obj }], "is not a plain file name"],
    [[{ name: "a.obj", bytes: new Uint8Array(0) }], "a.obj is empty"],
    [[{ name: "a.txt", bytes: obj }], "of a kind that cannot be opened"],
    [[{ name: "a.zip", bytes: zipSync({ "x.txt": obj }) }], "holds no mesh"],
    [[{ name: "a.zip", bytes: zipSync({ "../x.obj": obj }) }], "leads out of its folder"],
    [[{ name: "a.zip", bytes: zipSync({ "x.obj": obj }).slice(0, 60) }], "cannot be unpacked"],
    [[{ name: "a.zip", bytes: strToU8("PK no") }], "cannot be unpacked"],
  ])("refuses what it should not take (%#)", async (files, words) => {
    await expect(readAssets(files)).rejects.toThrow(words);
  });

  it("stops at a zip that unpacks beyond the limit", () => {
    const bomb = zipSync({ "a.obj": new Uint8Array(40_000_000) }, { level: 1 });
    expect(bomb.length).toBeLessThan(400_000);
    expect(() => unzip(bomb, "bomb.zip", 10_000_000)).toThrow("unpacks to more than 10 MB");
  });

  it("never crashes or hangs, whatever is done to good files", () => {
    const good = [
      { name: "x.ply", bytes: ply("ascii") },
      { name: "x.ply", bytes: ply("binary_little_endian") },
      { name: "x.stl", bytes: stlBinary() },
      { name: "x.stl", bytes: stlText(["a"]) },
      { name: "x.obj", bytes: obj },
      { name: "x.zip", bytes: zipSync({ "a.obj": obj, "stall.mtl": mtl }) },
    ];
    return fc.assert(
      fc.asyncProperty(
        fc.nat(good.length - 1),
        fc.array(fc.tuple(fc.nat(2000), fc.integer({ min: 0, max: 255 })), { maxLength: 8 }),
        fc.option(fc.nat(2000), { nil: 1e9, freq: 4 }),
        async (which, edits, size) => {
          const { name, bytes } = good[which]!;
          const broken = bytes.slice(0, size);
          for (const [at, value] of edits) if (broken.length) broken[at % broken.length] = value;
          try {
            for (const asset of await readAssets([{ name, bytes: broken }]))
              expect(shapesOf(asset).length).toBeGreaterThan(0);
          } catch (error) {
            expect((error as Error).name, (error as Error).stack).toBe("UserError");
          }
        },
      ),
      { numRuns: 1500 },
    );
  }, 120_000);
});

describe("a layout alone", () => {
  it("is laid on an untouched copy, seams that separate nothing included", async () => {
    const mill = pepperMill();
    const laid = await edit(await laidOut(mill), "creased", { angle: 10 });
    const alone = readLayoutFile(writeLayoutFile(laid), { name: "mill.layout.json" });
    const context = { ...quiet, imported: [alone] };
    const { asset } = await runEdit(mill, "lay-layout", {}, everything(mill), context);
    shapesOf(asset).forEach(({ mesh }, i) => {
      expect(layoutAt(asset, i).cut).toEqual(layoutAt(laid, i).cut);
      expect(layoutAt(asset, i).uv).toEqual(layoutAt(laid, i).uv);
      expect(mesh).toBe(shapeAt(mill, i).mesh);
    });
    expect(() => readLayoutFile(strToU8('{"tavlinLayout":1}'), { name: "x.json" })).toThrow(
      "not a layout that can be read",
    );
  });
});
