import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { layoutAt, shapeAt } from "../../testing/assets";
import { measure } from "../check/measure";
import { structureOf } from "../layout/layout";
import { runEdit } from "../operations/run";
import { everything } from "../operations/scope";
import { readObj } from "./obj-read";
import { writeObj } from "./obj-write";

const read = (text: string) => readObj(new TextEncoder().encode(text), { name: "t.obj" });
const textOf = (asset: ReturnType<typeof read>) => new TextDecoder().decode(writeObj(asset, "t").obj);
const quiet = { progress: () => {} };

const QUADS = `# two quads, kept as they stand
mtllib market.mtl
o Cloth one
v 0 0 0
v 1 0 0  # a comment behind
v 1 1 0
v 0 1 0
v 2 0 \\
  0
v 2 1 0
vt 0 0
vt 0.5 0
vt 0.5 1
vt 0 1
vt 1 0
vt 1 1
vn 0 0 1
usemtl Red cloth
s 1
g left
f 1/1/1 2/2/1 3/3/1 4/4/1
g right
f -5/2/-1 -2/5/-1 -1/6/-1 -4/3/-1
`;

describe("reading OBJ", () => {
  it("reads negative indices, continued lines, groups, materials, normals", () => {
    const asset = read(QUADS);
    const { mesh, name } = shapeAt(asset);
    expect(name).toBe("Cloth one");
    expect(Array.from(mesh.cornerVertex)).toEqual([0, 1, 2, 3, 1, 4, 5, 2]);
    expect(mesh.groups).toEqual(["left", "right"]);
    expect(Array.from(mesh.faceGroup)).toEqual([0, 1]);
    expect(asset.materials.map((m) => m.name)).toEqual(["Red cloth"]);
    expect(Array.from(mesh.cornerNormal!.subarray(0, 3))).toEqual([0, 0, 1]);
    expect(structureOf(mesh, layoutAt(asset))).toMatchObject({ shellCount: 1, wedgeCount: 6 });
  });

  it("reads every number as the language does", () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.oneof(
            fc.double({ noNaN: true, noDefaultInfinity: true }),
            fc.float({ noNaN: true, noDefaultInfinity: true }),
            fc.integer(),
          ),
          { minLength: 9, maxLength: 9 },
        ),
        (x) => {
          const lines = [0, 3, 6].map((i) => `v ${x[i]} ${x[i + 1]} ${x[i + 2]}`);
          const { mesh } = shapeAt(read(`${lines.join("\r\n")}\r\nf 1 2 3\r\n`));
          expect(Array.from(mesh.positions)).toEqual(x.map((v) => v + 0));
        },
      ),
    );
  });

  it.each([
    ["", "is empty"],
    ["# nothing\nv 0 0 0\n", "holds no faces"],
    ["v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 4\n", "Line 4: the face names vertex 4 of 3."],
    ["v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 -4\n", "Line 4: the face names vertex -4 of 3."],
    ["v 0 0 0\nv 1 0 0\nf 1 2\n", "Line 3: a face needs at least three corners."],
    ["v 0 nan 0\n", "Line 1: A vertex has “nan” where a number belongs."],
    ["v 0 1e999 0\n", "where a number belongs"],
    ["v 0 0\n", "Line 1: A vertex lacks a number."],
    ["v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 x\n", "Line 4: the face has “x” where a vertex number belongs."],
    ["v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1/1 2/1 3/1\n", "names texture point 1 of 0"],
    ["v 0 0 0\u0000", "binary data"],
  ])("refuses %j in one sentence", (text, words) => {
    expect(() => read(text)).toThrow(words);
  });

  it("never crashes on a damaged file: it is read, or refused in a sentence", () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(fc.nat(QUADS.length - 1), fc.constantFrom("", "9", "-", "/", "f", "\n", " ", "e", "\\", "#")),
          { minLength: 1, maxLength: 8 },
        ),
        (edits) => {
          let text = QUADS;
          for (const [i, c] of edits) text = text.slice(0, i) + c + text.slice(i + 1);
          try {
            expect(read(text).parts.length).toBeGreaterThan(0);
          } catch (error) {
            expect((error as Error).name).toBe("UserError");
          }
        },
      ),
      { numRuns: 600 },
    );
  });
});

describe("writing OBJ back", () => {
  it("keeps everything but texture points and the references to them", async () => {
    const asset = read(QUADS);
    const edited = (await runEdit(asset, "move", { du: 1, turn: 90 }, everything(asset), quiet)).asset;
    const strip = (text: string) =>
      text
        .split("\n")
        .filter((l) => !l.startsWith("vt"))
        .map((l) => (l.startsWith("f ") ? l.replace(/\/\d+\//g, "/*/") : l));
    expect(strip(textOf(edited))).toEqual(strip(QUADS));
    expect(measure(read(textOf(edited))).symmetricDirichlet!).toBeCloseTo(measure(asset).symmetricDirichlet!, 9);
  });

  it("comes back with the same layout, to the last digit", async () => {
    const asset = read(QUADS);
    const edited = (
      await runEdit(asset, "move", { du: 0.1, dv: 1 / 3, turn: 17, scale: 1.1 }, everything(asset), quiet)
    ).asset;
    const again = read(textOf(edited));
    expect(layoutAt(again, 0, 0).cut).toEqual(layoutAt(edited, 0, 0).cut);
    expect(layoutAt(again, 0, 0).uv).toEqual(layoutAt(edited, 0, 0).uv);
    expect(textOf(again)).toBe(textOf(edited));
  });

  it("leaves unmapped faces without references", () => {
    const text = textOf(read("v 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nf 1/1 2/2 3/3\nf 2 4 3\n"));
    expect(text.split("\n").filter((l) => l.startsWith("f"))).toEqual(["f 1/1 2/2 3/3", "f 2 4 3"]);
  });
});
