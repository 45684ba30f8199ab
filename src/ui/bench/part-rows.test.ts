import { describe, expect, it } from "vitest";
import { marketCart } from "../../../demo/models/market-cart";
import { partRows, rowsBetween } from "./part-rows";

const names = (rows: ReturnType<typeof partRows>) =>
  rows.map((r) => "  ".repeat(r.depth) + (r.type === "group" ? `[${r.name} ${r.parts.length}]` : r.part.name));

describe("rows of the parts list", () => {
  it("are a tree by groups, which can be folded", () => {
    const cart = marketCart();
    const all = partRows(cart, new Set(), "");
    expect(names(all).slice(0, 3)).toEqual(["[Bed 7]", "  Plank 1", "  Plank 2"]);
    expect(all.filter((r) => r.type === "part")).toHaveLength(cart.parts.length);
    expect(names(partRows(cart, new Set(["/Bed", "/Wheels"]), ""))).toEqual([
      "[Bed 7]",
      "[Wheels 3]",
      ...names(all).slice(names(all).indexOf("[Awning 5]")),
    ]);
  });

  it("are found by name, group and material, folded or not", () => {
    const cart = marketCart();
    expect(names(partRows(cart, new Set(["/Goods"]), "jar 1"))).toEqual(["[Goods 1]", "  Jar 1"]);
    expect(names(partRows(cart, new Set(), "wheels"))[0]).toBe("[Wheels 3]");
    expect(names(partRows(cart, new Set(), "nothing like it"))).toEqual([]);
    const material = cart.materials[0]!.name.toUpperCase();
    expect(partRows(cart, new Set(), material).length).toBeGreaterThan(1);
  });

  it("are picked from one to another", () => {
    const rows = partRows(marketCart(), new Set(), "");
    const ids = rows.flatMap((r) => (r.type === "part" ? [r.part.id] : []));
    expect(rowsBetween(rows, ids[4]!, ids[1]!)).toEqual(ids.slice(1, 5));
    expect(rowsBetween(rows, "gone", ids[1]!)).toEqual([ids[1]]);
  });

  it("stay quick at thousands of parts", () => {
    const cart = marketCart();
    const parts = Array.from({ length: 4000 }, (_, i) => ({
      ...cart.parts[i % 20]!,
      id: `q${i}`,
      path: [`G${i % 40}`, `H${i % 400}`],
    }));
    expect(partRows({ ...cart, parts }, new Set(), "")).toHaveLength(4000 + 40 + 400);
  });
});
