import { describe, expect, it } from "vitest";
import { measure } from "@/core/check/measure";
import { edit, laidOutModel } from "@/testing/assets";
import { squares } from "@/testing/squares";
import { pepperMill } from "../../../demo/models/pepper-mill";
import { figureWords, filteredLines, foldedLines, kindsOf, shellLines, sortedLines } from "./shell-rows";

const overlapping = squares([
  [0.1, 0.1, 0.2, 0.2],
  [0.6, 0.6, 0.2, 0.2],
  [0.25, 0.1, 0.2, 0.1],
]);
const lines = () => shellLines(overlapping, "s1", measure(overlapping));

describe("the table of shells", () => {
  it("has a line for every shell with its figures, also for those without coordinates", async () => {
    const mill = await laidOutModel(pepperMill);
    const m = measure(mill);
    const all = shellLines(mill, "s1", m);
    expect(all).toHaveLength(m.allShells);
    expect(new Set(all.map((l) => l.key)).size).toBe(all.length);
    expect(all.map((l) => l.stretch)).toEqual(m.perShell.map((s) => s.energy));
    const bare = pepperMill();
    const unlaid = shellLines(bare, "s1", measure(bare));
    expect(unlaid.every((l) => l.stretch === null && l.kinds.includes("unmapped"))).toBe(true);
  });

  it("leaves out shells that an edit has just cut up, until they are measured", async () => {
    const mill = await laidOutModel(pepperMill);
    const m = measure(mill);
    const redone = await edit(mill, "clear-set");
    expect(shellLines(redone, "s1", m).length).toBeLessThanOrEqual(m.allShells);
  });

  it("writes figures so that they fit: rounded, and without rows of zeros", () => {
    const line = { ...lines()[0]!, density: 1083.2, ratio: 1, area: 0.000351, turn: 12.4, tile: 1001 };
    expect(figureWords(line, "density")).toBe("1080");
    expect(figureWords({ ...line, ratio: 0.5 }, "density")).toBe("1080 ×0.5");
    expect(figureWords(line, "area")).toBe("3.5e-4");
    expect(figureWords({ ...line, area: 0.004321 }, "area")).toBe("0.0043");
    expect(figureWords({ ...line, area: 12.345 }, "area")).toBe("12.3");
    expect(figureWords({ ...line, area: null }, "area")).toBe("–");
  });

  it("shows a stack as one line, and its shells where it is opened", () => {
    const stacked = squares([
      [0.1, 0.1, 0.2, 0.2],
      [0.6, 0.6, 0.2, 0.2],
      [0.1, 0.1, 0.2, 0.2],
    ]);
    const m = measure(stacked);
    const all = shellLines(stacked, "s1", m);
    const closed = foldedLines(all, m, new Set());
    expect(closed.map((l) => l.shells.map((s) => s.face))).toEqual([[0, 2], [1]]);
    const open = foldedLines(all, m, new Set([closed[0]!.line.key]));
    expect(open.map((l) => [l.within, l.shells.length])).toEqual([
      [false, 2],
      [true, 1],
      [true, 1],
      [false, 1],
    ]);
    // What is left of a stack after a filter is a line like any other.
    expect(foldedLines(all.slice(1), m, new Set()).map((l) => l.shells.length)).toEqual([1, 1]);
  });

  it("is sorted by any column, shells without the figure last", () => {
    const byArea = sortedLines(lines(), { by: "area", down: true }).map((l) => l.area!);
    expect(byArea).toEqual([...byArea].sort((a, b) => b - a));
    const names = sortedLines(lines(), { by: "name", down: false }).map((l) => l.name);
    expect(names.map((n) => n.split(" ").at(-1))).toEqual(["1", "2", "3"]);
    const byMaterial = sortedLines(
      lines().map((l, i) => ({ ...l, material: ["brass", null, "clay"][i]! })),
      { by: "material", down: true },
    );
    expect(byMaterial.map((l) => l.material)).toEqual(["clay", "brass", null]);
    const [first, ...rest] = lines();
    const holed = [{ ...first!, stretch: null }, ...rest];
    for (const down of [true, false]) expect(sortedLines(holed, { by: "stretch", down }).at(-1)!.stretch).toBeNull();
  });

  it("is filtered by words and by what was found", () => {
    const all = lines();
    expect(kindsOf(all)).toContainEqual(["overlap", 2]);
    expect(filteredLines(all, "", "overlap")).toHaveLength(2);
    const word = all[0]!.name.split(" ")[0]!.toLowerCase();
    expect(filteredLines(all, `${word} 2`, null)).toHaveLength(1);
    expect(filteredLines(all, "nobody", null)).toEqual([]);
  });
});
