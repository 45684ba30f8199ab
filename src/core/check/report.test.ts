import { describe, expect, it } from "vitest";
import { assemble, box } from "../../../demo/kit";
import { assetOf, shapeAt } from "../../testing/assets";
import { squares } from "../../testing/squares";
import { RULES } from "../layout/rules";
import type { ShellRef } from "../layout/structure";
import { measure } from "./measure";
import { partsOf, reportText, setReport } from "./report";

const asset = squares([
  [0.1, 0.1, 0.2, 0.2],
  [0.2, 0.1, 0.2, 0.2],
  [0.7, 0.5, -0.2, 0.2],
]);

const report = (of: typeof asset) => setReport(of, of.sets[0]!, measure(of));

describe("a report", () => {
  it("tells findings, limits and figures in lines", () => {
    const text = reportText(asset, [report(asset)]);
    expect(text.split("\n").slice(0, 4)).toEqual([
      "Test",
      "Held against: padding 2 px, density spread 0.15, stretch 1.3.",
      "",
      "UV 1: 2 to look at",
    ]);
    // Two squares of 0.2 that share a half: 0.02 of the 0.1 they and the third cover.
    expect(text).toMatch(/1 pair of shells .*\(Part\)\.\n/);
    expect(text).toContain("overlap 20.0 %");
    expect(text).toContain("Shells 3, faces 3, seams 0.00 cm");
    expect(text).toContain("Stretch 1.0000, angles 1.0000, areas 1.0000");
    expect(text.endsWith("\n")).toBe(true);
  });

  it("tells what is accepted apart", () => {
    const rules = {
      ...RULES,
      accepted: [
        { kind: "overlap" as const, set: "s1", shells: [0, 1].map((face) => ({ shape: "p1", face })) },
        { kind: "mirrored" as const, set: "s1", shells: [{ shape: "p1", face: 2 }] },
      ],
    };
    const { findings, accepted } = report({ ...asset, rules });
    expect([findings.length, accepted.map((f) => f.kind)]).toEqual([0, ["overlap", "mirrored"]]);
    const text = reportText({ ...asset, rules }, [report({ ...asset, rules })]);
    expect(text).toContain("UV 1: all well\n");
    expect(text.match(/^ {2}Accepted: /gm)).toHaveLength(2);
  });

  it("says none for figures that a bare set does not have", () => {
    const empty = assetOf(shapeAt(asset).mesh);
    const text = reportText(empty, [report(empty)]);
    expect(text).toContain("Density none, spread none");
    expect(text).not.toMatch(/NaN|null|undefined|Infinity/);
  });

  it("names three parts, and counts the others", () => {
    const names = ["Lid", "Rim", "Pot", "Handle", "Foot"];
    const pot = assemble(
      "Pot",
      "cm",
      [],
      names.map((name) => ({ name, shape: box([1, 1, 1], [1, 1, 1]) })),
    );
    const told = (count: number) =>
      partsOf(
        pot,
        pot.parts.slice(0, count).flatMap(({ shape }) => [0, 1].map((face) => ({ shape, face }) as ShellRef)),
      );
    expect([0, 1, 3, 5].map(told)).toEqual(["", " (Lid)", " (Lid, Rim, Pot)", " (Lid, Rim, Pot and 2 more)"]);
  });
});
