import fc from "fast-check";
import { zipSync } from "fflate";
import { beforeAll, describe, expect, it } from "vitest";
import { brassBalance } from "../../../demo/models/brass-balance";
import { marketCart } from "../../../demo/models/market-cart";
import { paperLantern } from "../../../demo/models/paper-lantern";
import { edit, laidOutModel } from "../../testing/assets";
import { squares } from "../../testing/squares";
import { measure } from "../check/measure";
import { type Asset, drawnParts, mapParts, shapesOf } from "../layout/asset";
import { faceCount } from "../mesh/poly-mesh";
import { readLayoutFile, writeLayoutFile } from "./layout-file";
import { readObj } from "./obj-read";
import { writeObj } from "./obj-write";
import { readPly } from "./ply-read";
import { writePly } from "./ply-write";
import { cleanName } from "./sanitize";
import { writeSheet } from "./sheet-svg";
import { leavesFolder, unzip } from "./unzip";

const text = (bytes: Uint8Array) => new TextDecoder().decode(bytes);
const bytes = (s: string) => new TextEncoder().encode(s);
const sheetOptions = { set: "s1", resolution: 1024, wires: false, names: true };

/** Tags of a drawing, opened and closed in turn; throws where they do not fit into one another. */
function tagsOf(svg: string): string[] {
  const open: string[] = [];
  const seen: string[] = [];
  for (const [, closing, name, , self] of svg.matchAll(/<(\/?)([a-z]+)((?:\s+[a-zA-Z:-]+="[^"<>]*")*)\s*(\/?)>/g)) {
    if (closing) {
      if (open.pop() !== name) throw new Error(`${name} is closed out of turn.`);
    } else {
      seen.push(name!);
      if (!self) open.push(name!);
    }
  }
  if (open.length) throw new Error(`${open.join()} are not closed.`);
  return seen;
}

describe("the pattern sheet", () => {
  let lantern: Asset;
  beforeAll(async () => {
    lantern = await laidOutModel(paperLantern);
  });

  it("is a drawing whose tags fit, with a group for every shape and every number finite", () => {
    const svg = writeSheet(lantern, sheetOptions);
    const tags = tagsOf(svg);
    expect(tags[0]).toBe("svg");
    expect(tags.filter((t) => t === "g")).toHaveLength(1 + shapesOf(lantern).length);
    expect(svg).not.toMatch(/NaN|Infinity|undefined/);
    expect(writeSheet(lantern, { ...sheetOptions, wires: true }).length).toBeGreaterThan(svg.length);
    expect(
      tagsOf(writeSheet(lantern, { ...sheetOptions, names: false })).filter((t) => t === "text").length,
    ).toBeLessThan(tags.filter((t) => t === "text").length);
  });

  it("shows v upwards, tiles with their numbers, and as many texels as asked for", () => {
    const svg = writeSheet(
      squares([
        [0, 0, 0.5, 0.25],
        [1.25, 1.5, 0.5, 0.25],
      ]),
      { ...sheetOptions, resolution: 100, names: false },
    );
    expect(svg).toContain('width="200" height="200"');
    for (const n of ["1001", "1002", "1011", "1012"]) expect(svg).toContain(`>${n}</text>`);
    // The lower left corner of the first square lies at the bottom of the drawing.
    expect(svg).toContain("M0 200L50 200L50 175L0 175Z");
    expect(svg).toContain("M125 50L175 50L175 25L125 25Z");
  });

  it("takes any name without breaking", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary", minLength: 1, maxLength: 30 }), (name) => {
        const named = mapParts(squares([[0, 0, 1, 1]]), (p) => ({ ...p, name }));
        expect(tagsOf(writeSheet({ ...named, name }, sheetOptions))[0]).toBe("svg");
      }),
    );
  });
});

describe("names", () => {
  it("come out as databases and drawings can hold them, and the same when cleaned twice", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary", maxLength: 50 }), (name) => {
        const clean = cleanName(name);
        expect(cleanName(clean)).toBe(clean);
        expect([...clean].some((c) => c.codePointAt(0)! < 32 || (c >= "\u007f" && c <= "\u009f"))).toBe(false);
        expect(clean).not.toMatch(/\p{Surrogate}/u);
        expect(clean.length).toBeLessThanOrEqual(1000);
      }),
    );
    expect(cleanName("Lid, left")).toBe("Lid, left");
    expect(cleanName("x".repeat(5000))).toHaveLength(1000);
  });
});

describe.each([
  ["the lantern", paperLantern],
  ["the cart", marketCart],
  ["the balance", brassBalance],
])("%s, written and read again", (_, make) => {
  let asset: Asset;
  beforeAll(async () => {
    asset = await laidOutModel(make);
  });
  /** Figures that no format may change: counts, and what was measured of the layout. */
  const figures = (a: Asset) => {
    const m = measure({ ...a, unit: "cm" });
    return {
      faces: drawnParts(a).reduce((n, p) => n + faceCount(p.mesh), 0),
      stretch: m.symmetricDirichlet!,
      flipped: m.flippedTriangles,
    };
  };
  const alike = (a: Asset, b: Asset, digits: number) => {
    const [x, y] = [figures(a), figures(b)];
    expect(y.faces).toBe(x.faces);
    expect(y.flipped).toBe(x.flipped);
    expect(y.stretch).toBeCloseTo(x.stretch, digits);
  };

  it("as OBJ has its faces, parts and layout", () => {
    const again = readObj(writeObj(asset, "a").obj, { name: "a.obj" });
    expect(drawnParts(again).map((p) => p.name)).toEqual(asset.parts.map((p) => p.name));
    expect(drawnParts(again).map((p) => p.mesh.faceStart.length)).toEqual(
      drawnParts(asset).map((p) => p.mesh.faceStart.length),
    );
    // Instances are parts of their own there, and weigh in a mean of their own.
    expect(figures(again).flipped).toBe(figures(asset).flipped);
    expect(figures(again).stretch).toBeLessThan(figures(asset).stretch * 1.1);
  });

  it("as PLY has its faces and layout in one part", () => {
    const again = readPly(writePly(asset), { name: "a.ply" });
    expect(again.parts).toHaveLength(1);
    expect(figures(again).faces).toBe(figures(asset).faces);
    expect(figures(again).flipped).toBe(figures(asset).flipped);
  });

  it("as a layout alone has the same seams and points", async () => {
    const two = await edit(asset, "duplicate-set");
    const again = readLayoutFile(writeLayoutFile(two), { name: "a.layout.json" });
    expect(again.sets.map((s) => s.name)).toEqual(two.sets.map((s) => s.name));
    shapesOf(two).forEach((shape, i) => {
      const read = shapesOf(again)[i]!;
      expect(read.mesh.cornerVertex).toEqual(shape.mesh.cornerVertex);
      for (const { id } of two.sets) {
        const [was, now] = [shape.layouts.get(id), read.layouts.get(id)];
        expect(now?.uv).toEqual(was?.uv);
        expect(now?.cut).toEqual(was?.cut);
        expect(now?.mapped).toEqual(was?.mapped);
      }
    });
    alike(asset, asset, 12);
  });
});

describe("archives", () => {
  const name = fc.stringMatching(/^[a-z]{1,8}(\/[a-z]{1,8}){0,2}\.obj$/);
  it("unpack to what was packed, folders left out", () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.tuple(name, fc.uint8Array({ maxLength: 300 })), {
          minLength: 1,
          maxLength: 6,
          selector: (e) => e[0],
        }),
        (files) => {
          const packed = zipSync(Object.fromEntries(files));
          const got = unzip(packed, "a.zip");
          expect(new Map(got.map((f) => [f.name, [...f.bytes]]))).toEqual(new Map(files.map(([n, b]) => [n, [...b]])));
        },
      ),
      { numRuns: 40 },
    );
  });

  it("are refused in a sentence when they break off, are none, or lead out of their folder", () => {
    const numbers = Array.from({ length: 500 }, (_, i) => `v ${Math.sin(i)} ${Math.cos(i)} ${i}`);
    const packed = zipSync({ "a.obj": bytes(numbers.join("\n")) });
    expect(() => unzip(packed.subarray(0, packed.length / 3), "a.zip")).toThrow(/^a\.zip cannot be unpacked: /);
    expect(() => unzip(bytes("hello"), "a.zip")).toThrow("it is empty or no zip archive");
    for (const bad of ["../a.obj", "/a.obj", "c:\\a.obj", "x/../../a.obj", "a\0.obj"])
      expect(leavesFolder(bad), bad).toBe(true);
    for (const good of ["a.obj", "x/a.obj", "..a/b..obj", "x y/a.obj"]) expect(leavesFolder(good), good).toBe(false);
    expect(() => unzip(zipSync({ "../a.obj": bytes("v") }), "a.zip")).toThrow("leads out of its folder");
  });
});

describe("an OBJ", () => {
  it("with faces of more corners than a line is read for keeps them all", () => {
    const n = 3000;
    const lines = Array.from(
      { length: n },
      (_, i) => `v ${Math.cos((2 * Math.PI * i) / n)} ${Math.sin((2 * Math.PI * i) / n)} 0`,
    );
    const asset = readObj(bytes([...lines, `f ${Array.from({ length: n }, (_, i) => i + 1).join(" ")}`].join("\n")), {
      name: "n.obj",
    });
    expect(shapesOf(asset)[0]!.mesh.cornerVertex).toHaveLength(n);
    expect(text(writeObj(asset, "n").obj)).toContain(`f 1 2 3 `);
  });
});
