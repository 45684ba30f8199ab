import { describe, expect, it } from "vitest";
import { edit, quiet } from "../../../testing/assets";
import { squares } from "../../../testing/squares";
import { acceptedOf, findings, findingsOf } from "../../check/findings";
import { measure } from "../../check/measure";
import { decodeAsset, encodeAsset } from "../../formats/asset-bundle";
import type { Asset } from "../../layout/asset";
import { MOST_ACCEPTED, RULES } from "../../layout/rules";
import { runEdit, runExport } from "../run";
import { everything } from "../scope";

/** Two shells that overlap, two others that do, and one apart that is mirrored. */
const crowded = squares([
  [0.1, 0.1, 0.2, 0.2],
  [0.25, 0.1, 0.2, 0.2],
  [0.1, 0.5, 0.2, 0.2],
  [0.25, 0.5, 0.2, 0.2],
  [0.9, 0.7, -0.2, 0.2],
]);
const shellsOf = (asset: Asset, faces: number[]) => ({
  ...everything(asset),
  selection: { kind: "shells" as const, items: new Map([["p1", Uint32Array.from(faces)]]) },
});
const accept = async (asset: Asset, faces: number[], options: object = {}) =>
  (await runEdit(asset, "accept-findings", options, shellsOf(asset, faces), quiet)).asset;
const told = (asset: Asset) => findings(asset, "s1").map((f) => [f.kind, f.shells.map((s) => s.face)]);

describe("accepted findings", () => {
  it("are no longer told of the shells picked, and told as before of all others", async () => {
    expect(told(crowded)).toEqual([
      ["overlap", [0, 1, 2, 3]],
      ["mirrored", [4]],
    ]);
    const one = await accept(crowded, [0, 1]);
    expect(told(one)).toEqual([
      ["overlap", [2, 3]],
      ["mirrored", [4]],
    ]);
    // The share is that of the pair which is left: 0.05 by 0.2 of the five shells' area.
    expect(findings(one, "s1")[0]!.value).toBeCloseTo((0.05 * 0.2) / (5 * 0.04), 9);
    const all = await accept(await accept(one, [2, 3]), [4], { kind: "mirrored" });
    expect(told(all)).toEqual([]);
    const held = acceptedOf(measure(all), all.rules, "s1");
    expect(held.map((f) => f.kind)).toEqual(["overlap", "mirrored"]);
    expect(held[0]!.shells.map((s) => s.face)).toEqual([0, 1, 2, 3]);
    expect(decodeAsset(encodeAsset(all)).rules).toEqual(all.rules);
  });

  it("are told again when they are taken back, when the shells overlap others, and in another set", async () => {
    const one = await accept(crowded, [0, 1]);
    expect(told(await accept(one, [0, 1], { back: true }))).toEqual(told(crowded));
    const moved = await edit(one, "move", { du: 0, dv: 0.4 }, shellsOf(one, [1]));
    expect(told(moved)[0]![1]).toContain(1);
    expect(findingsOf(measure(one), one.rules, "s2").map((f) => f.kind)).toContain("overlap");
  });

  it("refuse what is not there with a sentence", async () => {
    await expect(accept(crowded, [0, 2])).rejects.toThrow("There is no overlap to accept among the picked shells.");
    await expect(accept(crowded, [0], { kind: "mirrored" })).rejects.toThrow("no mirrored shell");
    await expect(accept(crowded, [0, 1], { back: true })).rejects.toThrow("Nothing of this was accepted");
    await expect(edit(crowded, "accept-findings")).rejects.toThrow("Pick the shells");
    const entry = { kind: "stretch" as const, set: "s1", shells: [{ shape: "p1", face: 0 }] };
    const full = { ...crowded, rules: { ...RULES, accepted: new Array(MOST_ACCEPTED).fill(entry) } };
    await expect(accept(full, [0, 1])).rejects.toThrow("At most 20000");
  });
});

describe("limits of an asset", () => {
  it("are what its findings are held against", async () => {
    const near = squares([
      [0.1, 0.1, 0.2, 0.2],
      [0.302, 0.1, 0.2, 0.2],
    ]);
    expect(told(near)).toEqual([]);
    const strict = await edit(near, "set-rules", { padding: 8 });
    expect(told(strict)).toEqual([["gap", []]]);
    expect(strict.rules).toEqual({ ...RULES, padding: 8 });
    await expect(edit(strict, "set-rules", {})).rejects.toThrow("are these already");
    await expect(edit(strict, "set-rules", { spread: -1 })).rejects.toThrow("spread");
  });
});

describe("the check report", () => {
  const report = async (asset: Asset, as: string) => {
    const { files } = await runExport(asset, "check-report", { as }, everything(asset), quiet);
    return { name: files[0]!.name, text: new TextDecoder().decode(files[0]!.bytes) };
  };
  it("tells findings, what is accepted, and figures, in lines and as JSON", async () => {
    const one = await accept(crowded, [0, 1]);
    const { name, text } = await report(one, "text");
    expect(name).toBe(`${one.name}_check.txt`);
    expect(text).toMatch(/UV 1: 2 to look at\n {2}[\d.]+ % of the covered area overlaps: 1 pair of shells/);
    expect(text).toMatch(/Accepted: [\d.]+ % of the covered area overlaps: 1 pair of shells/);
    expect(text).toContain("Shells 5, faces 5,");
    const json = JSON.parse((await report(one, "json")).text);
    expect(json.sets[0].findings.map((f: { kind: string }) => f.kind)).toEqual(["overlap", "mirrored"]);
    expect(json.sets[0].figures.overlapPairs).toHaveLength(2);
  });

  it("and exports say what goes out with findings, where figures are at hand", async () => {
    const figures = (asset: Asset, set: string) => measure(asset, undefined, set);
    for (const id of ["export-obj", "export-ply", "export-glb"]) {
      const { warnings } = await runExport(crowded, id, {}, everything(crowded), { ...quiet, figures });
      expect(warnings.at(-1), id).toMatch(/^UV 1 went out with 2 findings: .* overlaps: 2 pairs .*mirrored\.$/);
      const plain = await runExport(crowded, id, {}, everything(crowded), quiet);
      expect(plain.warnings.join(), id).not.toContain("finding");
    }
  });
});
