import { describe, expect, it } from "vitest";
import { marketCart } from "../../../../demo/models/market-cart";
import { edit, laidOutModel, picking } from "../../../testing/assets";
import { squares } from "../../../testing/squares";
import type { Asset } from "../../layout/asset";
import type { GroupedBy } from "../../layout/pack-wishes";
import { everything, shellsInScope } from "../scope";
import { groupsOf } from "./pack-groups";
import { gathered } from "./pack-work";

/** Names of groups with how many shells each has. */
function groups(asset: Asset, by: GroupedBy): Record<string, number> | null {
  const work = shellsInScope(asset, everything(asset));
  const set = asset.sets[0]!.id;
  const { items, owners } = gathered(asset, work, { padding: 0, turns: "none" }, set);
  const found = groupsOf(asset, work, owners, items, by, set);
  if (!found) return null;
  const out: Record<string, number> = {};
  for (const g of found.of) out[found.names[g]!] = (out[found.names[g]!] ?? 0) + 1;
  return out;
}

describe("shells are grouped", () => {
  it("by nothing where nothing is asked", () => {
    expect(groups(squares([[0, 0, 1, 1]]), "nothing")).toBeNull();
  });

  it("by the tile that their middle lies in, and told apart from those that lie in none", () => {
    const list = squares([
      [0, 0, 0.2, 0.2],
      [0.9, 0, 0.15, 0.2],
      [1.2, 0.5, 0.2, 0.2],
      [0.3, 1.4, 0.2, 0.2],
      [-0.5, 0, 0.2, 0.2],
    ]);
    expect(groups(list, "tile")).toEqual({ 1001: 2, 1002: 1, 1011: 1, others: 1 });
  });

  it("by material, part and group of parts, under their names", async () => {
    const cart = await laidOutModel(marketCart);
    const byMaterial = groups(cart, "material")!;
    for (const name of Object.keys(byMaterial)) expect(cart.materials.map((m) => m.name)).toContain(name);
    expect(Object.keys(groups(cart, "part")!)).toContain("Wheel left");
    const byGroup = groups(cart, "group of parts")!;
    expect(Object.keys(byGroup).sort()).toEqual([...new Set(cart.parts.map((p) => p.path.join(" / ")))].sort());
    const all = (record: Record<string, number>) => Object.values(record).reduce((a, b) => a + b, 0);
    expect(all(byMaterial)).toBe(all(byGroup));
  });

  it("by the first named selection that has any of their faces", async () => {
    const cart = await laidOutModel(marketCart);
    const { shape } = cart.parts.find((p) => p.name === "Awning cloth")!;
    const picked = picking(cart, "faces", [0], shape);
    const named = await edit(cart, "name-selection", { name: "Cloth" }, picked);
    const found = groups(named, "named selection")!;
    expect(Object.keys(found).sort()).toEqual(["Cloth", "others"]);
    expect(found.Cloth).toBe(1);
  });

  it("by density ratio, the highest first", async () => {
    const list = squares([
      [0, 0, 0.2, 0.2],
      [0.3, 0, 0.2, 0.2],
      [0.6, 0, 0.2, 0.2],
      [0, 0.5, 0.2, 0.2],
    ]);
    const half = await edit(list, "density-ratio", { ratio: 0.5 }, picking(list, "faces", [0]));
    const both = await edit(half, "density-ratio", { ratio: 2 }, picking(half, "faces", [2]));
    expect(groups(both, "density ratio")).toEqual({
      "density ratio 2": 1,
      "density ratio 1": 2,
      "density ratio 0.5": 1,
    });
    const work = shellsInScope(both, everything(both));
    const { items, owners } = gathered(both, work, { padding: 0, turns: "none" }, both.sets[0]!.id);
    const { names } = groupsOf(both, work, owners, items, "density ratio", both.sets[0]!.id)!;
    expect(names).toEqual(["density ratio 2", "density ratio 1", "density ratio 0.5"]);
  });

  it("by likeness: those of one form together", () => {
    // All squares are one form in space, however they are laid.
    expect(
      Object.values(
        groups(
          squares([
            [0, 0, 0.2, 0.2],
            [0.5, 0, 0.3, 0.1],
            [0.5, 0.5, 0.1, 0.1],
          ]),
          "likeness",
        )!,
      ),
    ).toEqual([3]);
  });
});
