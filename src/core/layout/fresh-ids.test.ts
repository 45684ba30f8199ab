import { describe, expect, it } from "vitest";
import { assemble, box } from "../../../demo/kit";
import { freshIds } from "./fresh-ids";

const crate = () => assemble("Crate", "cm", [], [{ name: "Crate", shape: box([1, 1, 1], [1, 1, 1]) }]);

describe("ids for what an edit makes", () => {
  it("are the same when the same is asked of the same asset, and no two alike", () => {
    const make = () => {
      const freshId = freshIds(crate(), () => ["split-off", { name: "Lid" }]);
      return [freshId("p"), freshId("m"), freshId("m")];
    };
    expect(make()).toEqual(make());
    expect(new Set(make()).size).toBe(3);
    expect(make()[0]).toMatch(/^p-/);
  });

  it("are others when something else is asked, or of an asset of other parts", () => {
    const asset = crate();
    const of = (a: typeof asset, asked: unknown) => freshIds(a, () => asked)("p");
    const grown = { ...asset, parts: [...asset.parts, { ...asset.parts[0]!, id: "p2" }] };
    expect(new Set([of(asset, 1), of(asset, 2), of(grown, 1)]).size).toBe(3);
  });
});
