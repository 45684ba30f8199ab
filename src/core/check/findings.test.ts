import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { paperLantern } from "../../../demo/models/paper-lantern";
import { edit, picking } from "../../testing/assets";
import { squares } from "../../testing/squares";
import type { Asset } from "../layout/asset";
import { type FindingKind, RULES, Rules } from "../layout/rules";
import { findings } from "./findings";
import { measure } from "./measure";
import { overlapPairs } from "./overlap-pairs";

const kinds = (asset: Asset, rules: Rules = RULES): FindingKind[] => findings(asset, "s1", rules).map((f) => f.kind);

describe("findings", () => {
  it("are none of a packed layout, and one of a mesh without any", async () => {
    expect(kinds(await edit(paperLantern(), "draft"))).toEqual([]);
    const [bare] = findings(paperLantern(), "s1");
    expect(bare).toMatchObject({ kind: "unmapped" });
    expect(bare!.shells.length).toBeGreaterThan(1);
  });

  it("tell each thing that can be wrong, with its shells", () => {
    const well = [0.1, 0.1, 0.2, 0.2] as const;
    expect(kinds(squares([well, [0.5, 0.5, 0.2, 0.2]]))).toEqual([]);
    expect(kinds(squares([well, [0.9, 0.5, 0.2, 0.2]]))).toEqual(["out of tile"]);
    expect(kinds(squares([well, [0.3001, 0.1, 0.2, 0.2]]))).toEqual(["gap"]);
    expect(kinds(squares([well, [0.5, 0.5, 0.4, 0.4]]))).toEqual(["density"]);
    expect(kinds(squares([well, [0.7, 0.5, -0.2, 0.2]]))).toEqual(["mirrored"]);
    expect(kinds(squares([well, [0.5, 0.5, 0.5, 0.08]]))).toEqual(["stretch"]);
    const [overlap] = findings(squares([[0.6, 0.6, 0.2, 0.2], well, [0.25, 0.1, 0.2, 0.2]]), "s1");
    expect(overlap).toMatchObject({ kind: "overlap" });
    expect(overlap!.words).toContain("1 pair of shells");
    expect(overlap!.shells.map((s) => s.face)).toEqual([1, 2]);
  });

  it("see an overlap that no texel shows, and one in a far tile", () => {
    const sliver = squares([
      [0.1, 0.1, 0.2, 0.2],
      [0.3 - 1e-7, 0.1, 0.2, 0.2],
    ]);
    expect(kinds(sliver)).toContain("overlap");
    const far = squares([
      [0.1, 0.1, 0.2, 0.2],
      [8.4, 9.4, 0.2, 0.2],
      [8.5, 9.4, 0.2, 0.2],
    ]);
    expect(kinds(far)).toEqual(["overlap"]);
  });

  it("waive exact copies laid on one another, and nothing else that such a copy lies on", () => {
    const twins = squares([
      [0.1, 0.1, 0.2, 0.2],
      [0.1, 0.1, 0.2, 0.2],
    ]);
    expect(kinds(twins)).toEqual([]);
    expect(kinds(twins, { ...RULES, stacks: false })).toEqual(["overlap"]);
    const third = squares([
      [0.1, 0.1, 0.2, 0.2],
      [0.1, 0.1, 0.2, 0.2],
      [0.2, 0.2, 0.2, 0.2],
    ]);
    expect(kinds(third)).toContain("overlap");
  });

  it("follow the rules, and allow by name", () => {
    const near = squares([
      [0.1, 0.1, 0.2, 0.2],
      [0.305, 0.1, 0.2, 0.2],
    ]);
    expect(kinds(near)).toEqual([]);
    expect(kinds(near, Rules.parse({ padding: 16 }))).toEqual(["gap"]);
    expect(kinds(near, Rules.parse({ padding: 16, allowed: ["gap"] }))).toEqual([]);
    expect(kinds(near, Rules.parse({ padding: 2, resolution: 256 }))).toEqual(["gap"]);
    expect(() => Rules.parse({ paddding: 16 })).toThrow();
  });
});

describe("figures in texels", () => {
  it("are told in those of the tile that a shell lies in", () => {
    const asset = squares([
      [0.1, 0.1, 0.2, 0.2],
      [0.31, 0.1, 0.2, 0.2],
      [1.1, 0.1, 0.2, 0.2],
      [1.32, 0.1, 0.2, 0.2],
    ]);
    const even = measure({ ...asset, tiles: { resolution: 1000, own: {} } });
    expect(even.shellGapPx).toBeCloseTo(10, 9);
    expect(even.perShell.map((s) => Math.round(s.density))).toEqual([200, 200, 200, 200]);
    const own = measure({ ...asset, tiles: { resolution: 1000, own: { 1002: 100 } } });
    expect(own.shellGapPx).toBeCloseTo(2, 9);
    expect(own.borderGapPx).toBeCloseTo(10, 9);
    expect(own.perShell.map((s) => Math.round(s.density))).toEqual([200, 200, 20, 20]);
    expect(kinds({ ...asset, tiles: { resolution: 100, own: {} } })).toEqual(["gap"]);
    // What is asked for goes before what the asset has.
    expect(measure(asset, 500).shellGapPx).toBeCloseTo(5, 9);
  });
});

describe("pairs of shells that overlap", () => {
  it("share the area that rectangles share, wherever they lie", () => {
    const at = fc.double({ min: -4, max: 4, noNaN: true });
    const side = fc.double({ min: 0.01, max: 3, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(at, at, side, side), { minLength: 2, maxLength: 12 }), (list) => {
        const points = Float64Array.from(
          list.flatMap(([u, v, w, h]) => [u, v, u + w, v, u + w, v + h, u, v, u + w, v + h, u, v + h]),
        );
        const shell = Uint32Array.from(list.flatMap((_, i) => [i, i]));
        const found = new Map(overlapPairs({ points, shell })!.map((p) => [`${p.a},${p.b}`, p.area]));
        list.forEach(([u, v, w, h], a) => {
          list.slice(a + 1).forEach(([x, y, r, s], k) => {
            const across = Math.max(0, Math.min(u + w, x + r) - Math.max(u, x));
            const up = Math.max(0, Math.min(v + h, y + s) - Math.max(v, y));
            expect(found.get(`${a},${a + 1 + k}`) ?? 0).toBeCloseTo(across * up, 5);
          });
        });
        // The two halves of a rectangle meet along its diagonal and share nothing.
        for (let a = 0; a < list.length; a++) expect(found.has(`${a},${a}`)).toBe(false);
      }),
    );
  });
});

describe("lettering", () => {
  it("is told where it reads backwards, also where mirrored shells are as they should be", async () => {
    const two = squares([
      [0, 0, 0.2, 0.2],
      [0.5, 0, 0.2, 0.2],
    ]);
    const both = await edit(two, "mirror-shells");
    const bearing = await edit(both, "lettering", {}, picking(both, "shells", [1]));
    const told = (asset: typeof two) => findings(asset, "s1", asset.rules).find((f) => f.kind === "mirrored");
    expect(told(both)?.words).toBe("2 shells are mirrored");
    expect(told(bearing)?.words).toBe("2 shells are mirrored, 1 of them bearing lettering");
    const allowed = (asset: typeof two) => ({ ...asset, rules: { ...asset.rules, allowed: ["mirrored" as const] } });
    expect(told(allowed(both))).toBeUndefined();
    expect(told(allowed(bearing))).toMatchObject({
      words: "1 shell that bears lettering is mirrored",
      shells: [{ face: 1 }],
    });
  });
});
