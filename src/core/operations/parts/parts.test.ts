import { describe, expect, it } from "vitest";
import { brassBalance } from "../../../../demo/models/brass-balance";
import { marketCart } from "../../../../demo/models/market-cart";
import { pepperMill } from "../../../../demo/models/pepper-mill";
import { edit, laidOut, laidOutModel, layoutAt, picking, pickingParts, quiet } from "../../../testing/assets";
import { decodeAsset, encodeAsset } from "../../formats/asset-bundle";
import { readObj } from "../../formats/obj-read";
import { writeObj } from "../../formats/obj-write";
import { wholeParts } from "../../layout/assembly";
import { type Asset, drawnParts, type PartId, partById, shapeOf } from "../../layout/asset";
import { deltaBetween, withDelta } from "../../layout/delta";
import { faceCount } from "../../mesh/poly-mesh";
import { runEdit, runSelect } from "../run";
import { everything } from "../scope";

const pickingFaces = (asset: Asset, part: PartId, faces: readonly number[]) =>
  picking(asset, "faces", faces, partById(asset, part).shape);
const idOf = (asset: Asset, name: string) => asset.parts.find((p) => p.name === name)!.id;
const shapes = (asset: Asset) => drawnParts(asset).map((p) => [p.name, p.mesh, p.transform, p.layouts]);

/** The same through bytes, and as a change: what storage and the page do with every edit. */
function throughBytes(before: Asset, after: Asset): void {
  expect(decodeAsset(encodeAsset(after))).toEqual(after);
  expect(withDelta(before, deltaBetween(before, after))).toEqual(after);
  expect(withDelta(after, deltaBetween(after, before))).toEqual(before);
}

describe("splitting and uniting", () => {
  it("gives the part back whole: same mesh, same seams, same points", async () => {
    const mill = await laidOutModel(pepperMill);
    const body = mill.parts[0]!;
    const faces = Array.from({ length: 60 }, (_, i) => 3 * i).filter((f) => f < faceCount(shapeOf(mill, body).mesh));
    const split = await edit(mill, "split-off", { name: "Slice" }, pickingFaces(mill, body.id, faces));
    throughBytes(mill, split);
    expect(split.parts).toHaveLength(mill.parts.length + 1);
    const slice = split.parts.find((p) => p.name === "Slice")!;
    const again = await edit(split, "split-off", { name: "Crumb" }, pickingFaces(split, slice.id, [0, 1, 2]));
    expect(shapes(wholeParts(again))).toEqual(shapes(mill));
    expect(shapes(await edit(again, "unite"))).toEqual(shapes(mill));
    await expect(runEdit(again, "drop-stray", {}, everything(again), quiet)).rejects.toThrow("no stray vertex");
    await expect(runEdit(again, "cut-polygons", {}, everything(again), quiet)).rejects.toThrow("unite it first");
  });

  it("goes out as it came: OBJ with the vertices in their order", async () => {
    const text = new TextDecoder().decode(writeObj(pepperMill(), "mill").obj);
    const mill = readObj(new TextEncoder().encode(text), { name: "mill.obj" });
    const split = await edit(mill, "split-off", {}, pickingFaces(mill, mill.parts[0]!.id, [0, 1, 2, 3]));
    const out = writeObj(wholeParts(split), "mill");
    expect(out.inPlace).toBe(true);
    const lines = (t: string, word: string) => t.split("\n").filter((l) => l.startsWith(word));
    for (const word of ["v ", "f ", "o ", "usemtl"])
      expect(lines(new TextDecoder().decode(out.obj), word).map((l) => l.replace(/\/\d*/g, ""))).toEqual(
        lines(text, word).map((l) => l.replace(/\/\d*/g, "")),
      );
  });
});

describe("merging and separating", () => {
  it("gives the parts back under their names, with the layout worked on meanwhile", async () => {
    const balance = await edit(
      brassBalance(),
      "own-mesh",
      {},
      pickingParts(
        brassBalance(),
        brassBalance().parts.map((p) => p.id),
      ),
    );
    const laid = await laidOut(balance);
    const ids = laid.parts.slice(0, 4).map((p) => p.id);
    const merged = await edit(laid, "merge-parts", { name: "Stand" }, pickingParts(laid, ids));
    throughBytes(laid, merged);
    expect(merged.parts).toHaveLength(laid.parts.length - 3);
    expect(shapes(wholeParts(merged))).toEqual(shapes(laid));
    const moved = await edit(merged, "move", { du: 1 });
    const separated = await edit(moved, "separate-parts");
    expect(separated.parts.map((p) => p.name)).toEqual(laid.parts.map((p) => p.name));
    expect(layoutAt(separated, 1, 0).uv[0]).toBeCloseTo(layoutAt(laid, 1, 0).uv[0]! + 1, 12);
    await expect(runEdit(merged, "drop-flat", {}, everything(merged), quiet)).rejects.toThrow("no vertex twice");
  });
});

describe("the parts list", () => {
  it("names, groups, colours, tells of status, and locks with a reason", async () => {
    let cart = marketCart();
    const crate = idOf(cart, "Crate");
    cart = await edit(cart, "rename-part", { name: "Tea crate" }, pickingParts(cart, [crate]));
    cart = await edit(cart, "group-parts", { name: "Goods / Tea" }, pickingParts(cart, [crate]));
    cart = await edit(cart, "label-parts", { color: "saffron" }, pickingParts(cart, [crate]));
    cart = await edit(cart, "set-status", { status: "done" }, pickingParts(cart, [crate]));
    cart = await edit(cart, "lock-parts", { why: "painted already" }, pickingParts(cart, [crate]));
    expect(cart.parts.find((p) => p.id === crate)).toMatchObject({
      name: "Tea crate",
      path: ["Goods", "Tea"],
      label: 2,
      status: "done",
      locked: "painted already",
    });
    throughBytes(marketCart(), cart);
    const refused = runEdit(cart, "cut", {}, picking(cart, "edges", [0], partById(cart, crate).shape), quiet);
    await expect(refused).rejects.toThrow("Tea crate is locked: painted already. Unlock it first.");
    const drafted = await edit(cart, "creased");
    const shape = partById(cart, crate).shape;
    expect(drafted.shapes.get(shape)).toBe(cart.shapes.get(shape));
    const open = await edit(cart, "unlock-parts", {}, pickingParts(cart, [crate]));
    expect(open.parts.find((p) => p.id === crate)!.locked).toBeUndefined();
  });

  it("knows identical parts, and picks by material", async () => {
    const cart = marketCart();
    const jar = idOf(cart, "Jar 1");
    const found = await runSelect(cart, "pick-similar", {}, pickingParts(cart, [jar]), quiet);
    expect(found.words).toBe("6 parts alike.");
    const cloth = await runSelect(
      cart,
      "pick-by-material",
      { material: cart.materials[0]!.name },
      everything(cart),
      quiet,
    );
    expect(cloth.selection.items.size).toBeGreaterThan(0);
    await expect(runSelect(cart, "pick-by-material", { material: "x" }, everything(cart), quiet)).rejects.toThrow(
      "no such material",
    );
  });

  it("takes parts out, and leaves the shape to the parts that share it", async () => {
    const cart = marketCart();
    const first = cart.parts.find((p) => cart.parts.some((q) => q !== p && q.shape === p.shape))!;
    const left = await edit(cart, "take-out", {}, pickingParts(cart, [first.id]));
    expect(left.parts).toHaveLength(cart.parts.length - 1);
    expect(left.shapes.size).toBe(cart.shapes.size);
    throughBytes(cart, left);
    const all = pickingParts(
      cart,
      cart.parts.map((p) => p.id),
    );
    await expect(runEdit(cart, "take-out", {}, all, quiet)).rejects.toThrow("one part at least");
  });
});
