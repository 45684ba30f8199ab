import { describe, expect, it } from "vitest";
import { assemble, box, lathe } from "../../../demo/kit";
import { pepperMill } from "../../../demo/models/pepper-mill";
import { edit, layoutAt, picking, quiet, shapeAt } from "../../testing/assets";
import { measure } from "../check/measure";
import { shellAreas } from "../density/level";
import { readGltf } from "../formats/gltf/read";
import { writeGlb } from "../formats/gltf/write";
import { readObj } from "../formats/obj-read";
import { writeObj } from "../formats/obj-write";
import type { Asset } from "../layout/asset";
import { getBit } from "../layout/bits";
import { shellName, structureOf } from "../layout/layout";
import type { Shell } from "../mesh/indices";
import { topologyOf } from "../mesh/topology";
import type { Scope } from "./operation";
import { optionFields } from "./option-fields";
import { OPERATIONS, operationById, parseOptions } from "./registry";
import { runEdit, runExport } from "./run";
import { everything } from "./scope";

const crate = () => assemble("Crate", "cm", [], [{ name: "Crate", shape: box([3, 2, 1], [3, 2, 1]) }]);
/** A shell by its number. */
const onShell = (asset: Asset, shell: Shell): Scope =>
  picking(asset, "shells", [shellName(structureOf(shapeAt(asset).mesh, layoutAt(asset)), shell)]);

describe("the registry", () => {
  it("gives every operation a name of its own, a title, and options that can be shown", () => {
    expect(new Set(OPERATIONS.map((op) => op.id)).size).toBe(OPERATIONS.length);
    for (const op of OPERATIONS) {
      expect(op.about).toMatch(/\.$/);
      for (const field of optionFields(op)) expect(field.title && field.description).toBeTruthy();
      expect(() => parseOptions(op, {})).not.toThrow();
    }
  });

  it("names the first bad option, and operations that are not there", () => {
    expect(() => parseOptions(operationById("pack"), { padding: -1 })).toThrow("Pack: padding must be at least 0.");
    expect(() => operationById("iron")).toThrow("There is no operation called iron.");
  });

  it("keeps edits and exports apart", async () => {
    await expect(runEdit(crate(), "sheet", {}, everything(crate()), quiet)).rejects.toThrow(
      "Pattern sheet is not an edit.",
    );
    await expect(runExport(crate(), "cut", {}, everything(crate()), quiet)).rejects.toThrow(
      "Cut does not write files.",
    );
  });
});

describe("unfold", () => {
  it("keeps place, turn, density and handedness of a shell that has them", async () => {
    const laid = await edit(await edit(crate(), "creased"), "unfold");
    const moved = await edit(laid, "move", { du: 2, dv: 1, turn: 33, scale: 0.4 }, onShell(laid, 2 as Shell));
    const again = await edit(moved, "unfold", {}, onShell(moved, 2 as Shell));
    const [a, b] = [layoutAt(moved, 0, 0).uv, layoutAt(again, 0, 0).uv];
    a.forEach((x, i) => {
      expect(b[i]).toBeCloseTo(x, 6);
    });
  });

  it("lays new shells beside what is there, at its density, touching nothing", async () => {
    const seamed = await edit(crate(), "creased");
    const one = await edit(seamed, "unfold", {}, onShell(seamed, 0 as Shell));
    const all = await edit(
      one,
      "unfold",
      {},
      {
        ...everything(one),
        selection: {
          kind: "shells",
          items: new Map(
            [
              ["p1", [1, 2, 3, 4, 5].map((k) => shellName(structureOf(shapeAt(one).mesh, layoutAt(one)), k as Shell))],
            ].map(([id, names]) => [id as string, Uint32Array.from(names as number[])]),
          ),
        },
      },
    );
    const m = measure(all);
    expect(m).toMatchObject({ shells: 6, cornersWithoutUv: 0, flippedTriangles: 0, overlapShare: 0 });
    expect(m.texelDensityVariation!).toBeLessThan(1e-9);
  });

  it("names what cannot lie flat and offers to open it, or refuses the whole", async () => {
    const tube = assemble(
      "Tube",
      "cm",
      [],
      [
        {
          name: "Tube",
          shape: lathe(
            [
              [1, 0],
              [1, 2],
            ],
            8,
          ),
        },
      ],
    );
    const seamed = await edit(tube, "creased");
    const { result } = await runEdit(seamed, "unfold", { skip: true }, everything(seamed), quiet);
    expect(result.notes).toEqual([
      {
        words: expect.stringContaining("two borders"),
        shells: [{ shape: "p1", face: 0 }],
        edges: { shape: "p1", edges: expect.any(Uint32Array) },
        offer: "open-up",
      },
    ]);
    // Both borders are the reason: 8 edges each.
    expect(result.notes[0]!.edges!.edges).toHaveLength(16);
    await expect(runEdit(seamed, "unfold", {}, everything(seamed), quiet)).rejects.toThrow("two borders");
  });
});

describe("level", () => {
  it("brings shells to their mean, or to the density asked for, each about its own middle", async () => {
    const laid = await edit(await edit(crate(), "creased"), "unfold");
    const uneven = await edit(laid, "move", { scale: 3 }, onShell(laid, 1 as Shell));
    expect(measure(uneven).texelDensityVariation!).toBeGreaterThan(0.1);
    const areaOf = (a: Asset) => shellAreas(shapeAt(a), layoutAt(a, 0, 0)).reduce((sum, s) => sum + Math.abs(s.uv), 0);
    const even = await edit(uneven, "level");
    expect(measure(even).texelDensityVariation!).toBeLessThan(1e-9);
    expect(areaOf(even)).toBeCloseTo(areaOf(uneven), 9);
    const exact = await edit(uneven, "level", { density: 128, resolution: 1024 });
    expect(measure(exact, 1024).texelDensityMean!).toBeCloseTo(128, 6);
  });
});

describe("move", () => {
  it("turns about the middle of what is picked, and leaves the rest where it is, to the last bit", async () => {
    const laid = await edit(await edit(crate(), "creased"), "unfold");
    const turned = await edit(laid, "move", { turn: 90 }, onShell(laid, 3 as Shell));
    let back = turned;
    for (let k = 0; k < 3; k++) back = await edit(back, "move", { turn: 90 }, onShell(back, 3 as Shell));
    const [before, after] = [layoutAt(laid, 0, 0), layoutAt(turned, 0, 0)];
    const s = structureOf(shapeAt(laid, 0).mesh, before);
    const mine = new Set(Array.from(s.cornerWedge).filter((_, c) => s.faceShell[c >> 2] === 3));
    before.uv.forEach((x, i) => {
      if (!mine.has(i >> 1)) expect(after.uv[i]).toBe(x);
      expect(layoutAt(back, 0, 0).uv[i]).toBeCloseTo(x, 9);
    });
  });
});

describe("scope", () => {
  it("is everything visible when nothing is picked; hidden parts stay as they are", async () => {
    const mill = pepperMill();
    const seamed = await edit(mill, "creased", {}, { set: "s1", parts: ["p1"] });
    expect(layoutAt(seamed, 0, 0)).not.toBe(layoutAt(mill, 0, 0));
    expect(layoutAt(seamed, 1, 0)).toBe(layoutAt(mill, 1, 0));
  });

  it("lets a part stand for the shape it shares with others", async () => {
    const mill = pepperMill();
    const ring = mill.parts.find((p) => p.name === "Ring below")!;
    const seamed = await edit(mill, "creased", { angle: 30 }, { set: "s1", parts: [ring.id] });
    expect(seamed.parts.find((p) => p.name === "Ring")!.shape).toBe(ring.shape);
    expect(seamed.shapes.get(ring.shape)!.layouts.get("s1")).not.toBe(mill.shapes.get(ring.shape)!.layouts.get("s1"));
  });
});

describe("export", () => {
  it("says which seams the format cannot hold, and nothing else", async () => {
    const laid = await edit(await edit(crate(), "creased"), "unfold");
    const quietly = await runExport(laid, "export-obj", {}, everything(laid), quiet);
    expect(quietly).toMatchObject({ files: [{ name: "Crate.obj" }], warnings: [] });
    const t = topologyOf(shapeAt(laid, 0).mesh);
    const joined = Array.from({ length: t.edgeCount }, (_, e) => e).find((e) => !getBit(layoutAt(laid, 0, 0).cut, e))!;
    const slit = await edit(
      laid,
      "cut",
      {},
      { set: "s1", parts: ["p1"], selection: { kind: "edges", items: new Map([["p1", Uint32Array.from([joined])]]) } },
    );
    for (const id of ["export-obj", "export-glb"])
      expect((await runExport(slit, id, {}, everything(slit), quiet)).warnings).toEqual([
        expect.stringMatching(/^1 seam edge cannot be told/),
      ]);
  });

  it("says which triangles are lost in single precision", async () => {
    const laid = await edit(await edit(crate(), "creased"), "unfold");
    const tiny = await edit(laid, "move", { scale: 1e-6, du: 4096 });
    const [whole, lost] = await Promise.all(
      [laid, tiny].map((a) => runExport(a, "export-glb", {}, everything(a), quiet)),
    );
    expect(whole!.warnings).toEqual([]);
    expect(lost!.warnings.join()).toMatch(/triangles lost area or flipped/);
  });
});

describe("a file that is written back", () => {
  it("says which names and groups stay in Tavlin alone", async () => {
    const own = crate();
    const files = {
      "export-obj": readObj(writeObj(own, "crate").obj, { name: "crate.obj" }),
      "export-glb": await readGltf((await writeGlb(own)).bytes, { name: "crate.glb" }),
    };
    for (const [id, back] of Object.entries(files)) {
      const before = await runExport(back, id, {}, everything(back), quiet);
      expect(before.warnings.filter((w) => w.includes("Tavlin only"))).toEqual([]);
      const part = back.parts[0]!.id;
      const named = await edit(back, "rename-part", { name: "Lid" }, { ...everything(back), picked: [part] });
      const grouped = await edit(named, "group-parts", { name: "Stall" }, { ...everything(named), picked: [part] });
      expect((await runExport(grouped, id, {}, everything(grouped), quiet)).warnings).toEqual(
        expect.arrayContaining([
          expect.stringMatching(/^1 part goes by the name that the file had/),
          expect.stringMatching(/new groups of 1 part are kept in Tavlin only/),
        ]),
      );
    }
  });
});

describe("draft", () => {
  it("lays a single crooked face as well as it can, in its own shape", async () => {
    const crooked = assemble(
      "Kite",
      "m",
      [],
      [
        {
          name: "Kite",
          shape: {
            points: [
              [0, 0, 0],
              [4, 0, 3],
              [4, 4, 0],
              [0, 4, 3],
            ],
            faces: [[0, 1, 2, 3]],
            material: [0],
          },
        },
      ],
    );
    const m = measure(await edit(crooked, "draft", { limit: 1.001 }));
    expect(m).toMatchObject({ shells: 1, flippedTriangles: 0 });
    expect(m.symmetricDirichlet!).toBeLessThan(1.01);
  });
});
