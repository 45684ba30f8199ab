import { describe, expect, it } from "vitest";
import { edit, layoutAt, picking, shapeAt } from "../../testing/assets";
import { squares } from "../../testing/squares";
import { changedLines } from "./changed-lines";

describe("lines of what would change", () => {
  const two = squares([
    [0, 0, 0.25, 0.25],
    [0.5, 0.5, 0.25, 0.25],
  ]);

  it("are the edges of the shells that lie otherwise, where they would come to lie", async () => {
    const moved = await edit(two, "move", { du: 0.125 }, picking(two, "shells", [1]));
    const { borders, inner } = changedLines(two, moved, "s1");
    expect(inner.length).toBe(0);
    expect(borders.length).toBe(4 * 4);
    const us = [...borders].filter((_, i) => i % 2 === 0);
    expect(new Set(us)).toEqual(new Set([0.625, 0.875]));
  });

  it("are none where nothing moves, and all those of shells that had no place", async () => {
    expect(changedLines(two, two, "s1").borders.length).toBe(0);
    const bare = await edit(two, "clear-set");
    const laid = await edit(bare, "project", { kind: "flat", axis: "z" });
    const { borders } = changedLines(bare, laid, "s1");
    expect(borders.length).toBe(2 * 4 * 4);
    expect(shapeAt(laid).mesh.faceStart.length - 1).toBe(2);
    expect(layoutAt(laid).uv.some((x) => x !== 0)).toBe(true);
  });
});
