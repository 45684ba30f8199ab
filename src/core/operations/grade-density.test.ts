import { describe, expect, it } from "vitest";
import { marketCart } from "../../../demo/models/market-cart";
import { edit, laidOutModel, picking, quiet } from "../../testing/assets";
import { byVertex, patch } from "../../testing/patches";
import { measure } from "../check/measure";
import { runEdit, runSelect } from "./run";
import { everything } from "./scope";

/** A flat square of 10 by 10 quads, as large on the sheet as half a tile. */
const cloth = () =>
  patch(
    10,
    10,
    (i, j) => [i, j, 0],
    (i, j) => [0.05 * i, 0.05 * j],
  ).asset;

/** Faces of some columns of it. */
const columns = (from: number, to: number): number[] =>
  Array.from({ length: 100 }, (_, f) => f).filter((f) => f % 10 >= from && f % 10 < to);

const grade = (faces: number[], options: object) =>
  edit(cloth(), "grade-density", options, picking(cloth(), "faces", faces));

describe("density that is graded", () => {
  it("squeezes columns to just what is asked for, and moves the rest along as it is", async () => {
    const after = byVertex(await grade(columns(4, 6), { by: 0.5, along: "across", radius: 0 }));
    const width = (i: number) => after[i + 1]![0] - after[i]![0];
    for (let i = 0; i < 10; i++) expect(width(i)).toBeCloseTo(i === 4 || i === 5 ? 0.025 : 0.05, 9);
    for (let j = 0; j <= 10; j++) expect(after[11 * j]![1]).toBeCloseTo(0.05 * j, 9);
    // The middle of its points stays.
    expect(after.reduce((sum, p) => sum + p[0], 0) / after.length).toBeCloseTo(0.25, 9);
  });

  it("scales a whole shell where all of it is picked", async () => {
    const after = byVertex(await grade(columns(0, 10), { by: 0.5, radius: 0 }));
    for (let j = 0; j <= 10; j++)
      for (let i = 0; i <= 10; i++) {
        expect(after[11 * j + i]![0]).toBeCloseTo(0.125 + 0.025 * i, 9);
        expect(after[11 * j + i]![1]).toBeCloseTo(0.125 + 0.025 * j, 9);
      }
  });

  it("fades out around what is picked", async () => {
    const after = byVertex(await grade(columns(0, 1), { by: 2, along: "across", radius: 0.3, curve: "even" }));
    const widths = Array.from({ length: 10 }, (_, i) => after[55 + i + 1]![0] - after[55 + i]![0]);
    expect(widths[0]).toBeCloseTo(0.1, 6);
    for (let i = 1; i < 7; i++) expect(widths[i]).toBeLessThan(widths[i - 1]!);
    for (let i = 7; i < 10; i++) expect(widths[i]).toBeCloseTo(0.05, 6);
  });

  it("tells the room it gives and the stretch it costs", async () => {
    const scope = picking(cloth(), "faces", columns(4, 6));
    const { result } = await runEdit(cloth(), "grade-density", { by: 0.5, along: "across", radius: 0 }, scope, quiet);
    expect(result.words).toBe("Grade 1 shell: 10.0 % less room, stretch 1.000 to 1.099");
  });

  it("leaves pinned points where they are", async () => {
    const pinned = await edit(cloth(), "pin", {}, picking(cloth(), "points", [0, 1]));
    const before = byVertex(pinned);
    const after = byVertex(await edit(pinned, "grade-density", { by: 0.5 }, picking(pinned, "faces", columns(4, 6))));
    const moved = after.map((p, i) => Math.hypot(p[0] - before[i]![0], p[1] - before[i]![1]) > 1e-12);
    expect(moved.filter((m) => !m).length).toBeGreaterThanOrEqual(2);
    expect(moved.some(Boolean)).toBe(true);
  });

  it("goes by what is seen of each shell, in round ratios that are kept", async () => {
    const asset = await laidOutModel(marketCart);
    const scope = { ...everything(asset), selection: undefined };
    const picked = { ...scope, picked: asset.parts.map((p) => p.id) };
    const seen = await edit(asset, "density-ratio", { by: "what is seen", ratio: 2 }, picked);
    const ratios = measure(seen).perShell.map((s) => s.ratio);
    expect(Math.max(...ratios) === 2 || Math.min(...ratios) === 0.5).toBe(true);
    expect(new Set(ratios).size).toBeGreaterThan(3);
    for (const r of ratios) expect(Math.abs(r * 20 - Math.round(r * 20))).toBeLessThan(1e-9);
    // What has a ratio is no spread, and keeps it when all are levelled.
    const levelled = measure(await edit(seen, "level"));
    expect(levelled.texelDensityVariation).toBeLessThan(1e-6);
    expect(levelled.perShell.map((s) => s.ratio)).toEqual(ratios);
  });

  it("is proposed for what is seen least, up to a share of the area", async () => {
    const asset = marketCart();
    const found = await runSelect(asset, "pick-least-seen", { share: 30 }, everything(asset), quiet);
    expect(found.selection.kind).toBe("faces");
    expect(found.words).toMatch(/^\d+ faces picked, seen least\.$/);
    const marked = await edit(asset, "mark-view", { x: 1, y: 0, z: 0 });
    const behind = await runSelect(marked, "pick-least-seen", { share: 10 }, everything(marked), quiet);
    expect(behind.selection.items.size).toBeGreaterThan(0);
  });
});
