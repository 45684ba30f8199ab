import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { edit, picking, quiet } from "../../../testing/assets";
import { squares } from "../../../testing/squares";
import type { Asset } from "../../layout/asset";
import { itemsOfRuns, runsOf } from "../../layout/named-selection";
import { runSelect } from "../run";
import { everything } from "../scope";

async function pick(name: string, asset: Asset) {
  const { selection, words } = await runSelect(asset, "pick-named", { name }, everything(asset), quiet);
  return { kind: selection.kind, items: [...selection.items.values()].flatMap((x) => [...x]), words };
}

describe("named selections", () => {
  const sheet = squares([
    [0.1, 0.1, 0.2, 0.2],
    [0.6, 0.1, 0.2, 0.2],
  ]);

  it("are picked again as they were, over another step and a change of kind", async () => {
    for (const kind of ["vertices", "edges", "faces", "shells"] as const) {
      const named = await edit(sheet, "name-selection", { name: "  Rim " }, picking(sheet, kind, [1]));
      expect(named.selections.map((s) => s.name)).toEqual(["Rim"]);
      const later = await edit(named, "move", { du: 0.1 });
      const found = await pick("Rim", later);
      expect([found.kind, found.items]).toEqual([kind, [1]]);
    }
  });

  it("replace those of the same name, stand in order of their names, and are forgotten", async () => {
    let asset = await edit(sheet, "name-selection", { name: "B" }, picking(sheet, "faces", [0]));
    asset = await edit(asset, "name-selection", { name: "A" }, picking(asset, "faces", [0]));
    asset = await edit(asset, "name-selection", { name: "B" }, picking(asset, "edges", [3, 1, 2]));
    expect(asset.selections.map((s) => s.name)).toEqual(["A", "B"]);
    expect((await pick("B", asset)).items).toEqual([1, 2, 3]);
    asset = await edit(asset, "forget-selection", { name: "A" });
    expect(asset.selections.map((s) => s.name)).toEqual(["B"]);
    await expect(pick("A", asset)).rejects.toThrow("no selection called A");
  });

  it("leave meshes out that have changed since, and say so", async () => {
    const named = await edit(sheet, "name-selection", { name: "Left" }, picking(sheet, "faces", [1]));
    const alone = await edit(named, "split-off", {}, picking(named, "faces", [0]));
    await expect(pick("Left", alone)).rejects.toThrow("have changed since");
    await expect(edit(sheet, "name-selection", { name: "x" })).rejects.toThrow("Pick something first");
    await expect(edit(sheet, "name-selection", { name: " " }, picking(sheet, "faces", [1]))).rejects.toThrow("a name");
  });

  it("hold any numbers as runs", () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.nat(300)), (list) => {
        const items = Uint32Array.from(list).sort();
        expect(itemsOfRuns(runsOf(items), 301)).toEqual(items);
      }),
    );
    // What is meddled with names nothing that is not there.
    expect([...itemsOfRuns("0 zzzzzz", 3)]).toEqual([0, 1, 2]);
    expect([...itemsOfRuns("x! 2", 3)]).toEqual([]);
  });
});
