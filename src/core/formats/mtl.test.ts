import { describe, expect, it } from "vitest";
import { quiet } from "../../testing/assets";
import type { Asset } from "../layout/asset";
import { runExport } from "../operations/run";
import { everything } from "../operations/scope";
import { readObj } from "./obj-read";

const bytes = (text: string) => new TextEncoder().encode(text);
const OBJ = `mtllib a.mtl
v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1
usemtl one\nf 1/1 2/2 3/3
usemtl two\nf 1/1 3/3 2/2
usemtl bare\nf 2/2 3/3 1/1
`;
const MTL = "newmtl one\nmap_Kd silk/Weave.png\nnewmtl two\nmap_Kd hemp/weave.png\nnewmtl bare\nKd 1 0 0\n";
const asset = readObj(bytes(OBJ), {
  name: "a.obj",
  beside: [
    { name: "a.mtl", bytes: bytes(MTL) },
    { name: "silk/Weave.png", bytes: bytes("silk") },
    { name: "hemp/weave.png", bytes: bytes("hemp") },
  ],
});
const made: Asset = { ...asset, source: { name: "a.made", format: "made" } };
const written = async (from: Asset, set = from.sets[0]!.id) =>
  runExport(from, "export-obj", {}, everything(from, set), quiet);

describe("images of an OBJ that is written from scratch", () => {
  it("go with it, each under a name of its own, and come back with it", async () => {
    const { files, warnings } = await written(made);
    expect(files.map((f) => f.name)).toEqual(["a.obj", "a.mtl", "Weave.png", "weave-2.png"]);
    expect(warnings).toEqual([]);
    const again = readObj(files[0]!.bytes, { name: "a.obj", beside: files });
    expect(again.materials.map((m) => m.texture?.image)).toEqual(asset.materials.map((m) => m.texture?.image));
    for (const { key } of asset.images) expect(again.files![key]).toEqual(asset.files![key]);
  });

  it("are left where they are when the file goes back into itself, and out when their bytes are not at hand", async () => {
    const same = { ...asset, source: { ...asset.source, key: "k" }, files: { ...asset.files, k: bytes(OBJ) } };
    expect((await written(same)).files.map((f) => f.name)).toEqual(["a.obj"]);
    expect((await written({ ...made, files: {} })).files.map((f) => f.name)).toEqual(["a.obj", "a.mtl"]);
  });

  it("are warned of when another set lays them than the one that is written", async () => {
    const second = { id: "s2", name: "Light", purpose: "light" as const, exportAs: 1 };
    const { warnings } = await written({ ...made, sets: [...made.sets, second] }, "s2");
    expect(warnings[0]).toBe("Images that are mapped by UV 1 will be drawn with the wrong coordinates.");
  });
});

describe("images of other channels than the base colour", () => {
  const names = ["spec", "clear", "glow", "rough", "metal", "dirs", "bumps"];
  const statements = [
    "map_Ks spec.png",
    "map_d -clamp on clear.png",
    "map_Ke glow.png",
    "map_Pr rough.png",
    "map_Pm metal.png",
    "norm dirs.png",
    "map_Bump -bm 0.5 bumps.png",
  ];
  const beside = [
    { name: "a.mtl", bytes: bytes(`newmtl one\nmap_Kd paint.png\n${statements.join("\n")}\n`) },
    ...["paint", ...names].map((name) => ({ name: `${name}.png`, bytes: bytes(name) })),
  ];
  const many = readObj(bytes(OBJ), { name: "a.obj", beside });

  it("come along, whatever stands before their names, and go into an MTL that is written", async () => {
    const { maps } = many.materials[0]!;
    expect(maps!.map((m) => m.channel)).toEqual([
      "specular",
      "opacity",
      "emission",
      "roughness",
      "metal",
      "normal",
      "bump",
    ]);
    expect(maps!.map((m) => many.images.find((i) => i.key === m.image)!.name)).toEqual(names.map((n) => `${n}.png`));
    const { files } = await written({ ...many, source: { name: "a.made", format: "made" } });
    const again = readObj(files[0]!.bytes, { name: "a.obj", beside: files });
    expect(again.materials[0]!.maps).toEqual(maps);
  });

  it("are written beside an OBJ that goes back into itself where they were drawn anew, and that is said", async () => {
    const images = many.images.map((i, k) => (k ? i : { ...i, name: "paint-moved.png", redrawn: true as const }));
    const moved = { ...many, images, source: { ...many.source, key: "k" }, files: { ...many.files, k: bytes(OBJ) } };
    const { files, warnings } = await written(moved);
    expect(files.map((f) => f.name)).toEqual(["a.obj", "paint-moved.png"]);
    expect(warnings[0]).toContain("let its materials use paint-moved.png");
  });
});
