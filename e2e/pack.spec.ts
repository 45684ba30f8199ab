import { readFile } from "node:fs/promises";
import { expect, type Page, test } from "@playwright/test";
import { writeObj } from "../src/core/formats/obj-write";
import { readAsset } from "../src/core/formats/read-asset";
import { shellsAt } from "../src/core/operations/place/shells-at";
import { everything } from "../src/core/operations/scope";
import type { SheetBox } from "../src/core/place/box";
import { squares } from "../src/testing/squares";
import { at, card, doOn, openCard, openNew, said, showSide, stage } from "./table";

/** Nine oblongs in a row: one lies on the first. The first four are of another material than the others. */
const some = (): Uint8Array => {
  const list = Array.from({ length: 9 }, (_, i) => [0.01 + 0.11 * i, 0.05, 0.06 + 0.004 * i, 0.1 + 0.01 * i] as const);
  const lines = new TextDecoder()
    .decode(writeObj(squares([...list.slice(0, 8), [0.03, 0.08, 0.03, 0.03]]), "some").obj)
    .split("\n")
    .filter((line) => !/^(usemtl|mtllib)/.test(line));
  const faces = lines.flatMap((line, i) => (line.startsWith("f ") ? [i] : []));
  lines.splice(faces[4]!, 0, "usemtl Tin");
  lines.splice(faces[0]!, 0, "usemtl Oak");
  return new TextEncoder().encode(lines.join("\n"));
};

/** The boxes about the shells, as they are written. */
async function written(page: Page): Promise<SheetBox[]> {
  await stage(page, "Hand off").click();
  const download = page.waitForEvent("download");
  await doOn(page, "Export OBJ");
  const asset = await readAsset(new Uint8Array(await readFile(await (await download).path())), { name: "out.obj" });
  await expect(said(page)).toContainText("Wrote");
  await stage(page, "Place").click();
  return shellsAt(asset, everything(asset)).map((s) => s.box);
}

/** The box about some boxes. */
const about = (boxes: readonly SheetBox[]): SheetBox => ({
  u0: Math.min(...boxes.map((b) => b.u0)),
  v0: Math.min(...boxes.map((b) => b.v0)),
  u1: Math.max(...boxes.map((b) => b.u1)),
  v1: Math.max(...boxes.map((b) => b.v1)),
});

/** Chooses an option of the card of Pack. */
async function choose(page: Page, option: string, value: string): Promise<void> {
  const own = await openCard(page, "Pack");
  const more = own.getByRole("button", { name: /more options?$/ });
  const field = own.getByRole("combobox", { name: option });
  if (!(await field.isVisible())) await more.click();
  await field.click();
  await page.getByRole("option", { name: value, exact: true }).click();
}

test("shells go near where they lie, around what stays, and into a plot that is drawn", async ({ page }) => {
  await openNew(page, "some.obj", some());
  await stage(page, "Place").click();
  const first = await written(page);

  // The least change: only what lies on another moves.
  await choose(page, "Search", "quick");
  await choose(page, "Places", "near where they lie");
  await page.keyboard.press("p");
  await expect(said(page)).toHaveText("Pack 9 shells, 1 of them moved");
  const near = await written(page);
  expect(near.slice(0, 8)).toEqual(first.slice(0, 8));
  expect(near[8]).not.toEqual(first[8]);

  // One alone is packed around the others.
  await choose(page, "Places", "anywhere");
  await showSide(page, "Shells");
  await page.getByRole("listbox", { name: "Shells" }).getByRole("option").first().click();
  await page.keyboard.press("p");
  await expect(said(page)).toHaveText("Pack 1 shell");
  const around = await written(page);
  const moved = around.filter((box, i) => box.u0 !== near[i]!.u0 || box.v0 !== near[i]!.v0 || box.u1 !== near[i]!.u1);
  expect(moved).toHaveLength(1);
  for (const box of around)
    if (box !== moved[0])
      expect(
        Math.max(box.u0 - moved[0]!.u1, moved[0]!.u0 - box.u1, box.v0 - moved[0]!.v1, moved[0]!.v0 - box.v1),
      ).toBeGreaterThan(0);

  // A plot is drawn with a drag, and takes them all.
  await page.keyboard.press("Escape");
  await page.keyboard.press("Shift+D");
  const [from, to] = [await at(page, "sheet", 0.35, 0.35), await at(page, "sheet", 0.75, 0.6)];
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(to.x, to.y, { steps: 4 });
  await page.mouse.up();
  await expect(said(page)).toHaveText("Add plot Plot 1");
  await expect(page.getByRole("button", { name: "Remove plot Plot 1" })).toBeVisible();
  await choose(page, "Into", "plots");
  await page.keyboard.press("p");
  await expect(said(page)).toHaveText("Pack 9 shells");
  const inPlot = await written(page);
  const [low, high] = [Math.min(...inPlot.map((b) => b.u0)), Math.max(...inPlot.map((b) => b.v1))];
  expect(low).toBeGreaterThan(0.1);
  // The border of the plot is one of the grid's, and the shells begin eight texels beside it, or a little more.
  const beside = 2048 * (low - Math.floor(8 * low) / 8);
  expect(beside).toBeGreaterThanOrEqual(8 - 1e-3);
  expect(beside).toBeLessThan(12);
  expect(high).toBeLessThan(1);
  await page.getByRole("button", { name: "Remove plot Plot 1" }).press("Enter");
  await expect(said(page)).toHaveText("Remove plot Plot 1");
});

test("a long search goes as far as one lets it, and what would fit is offered where there is no room", async ({
  page,
}) => {
  await openNew(page, "some.obj", some());
  await stage(page, "Place").click();

  // It tells how much it covers, and keeps that when it is stopped.
  await choose(page, "Search", "long");
  await page.keyboard.press("p");
  await expect(page.getByRole("img", { name: /covered/ })).toBeVisible();
  await page.getByRole("button", { name: "Stop Pack" }).press("Enter");
  await expect(said(page)).toHaveText("Pack 9 shells, stopped early");
  await expect(stage(page, "Place")).toContainText(/[6-9]\d % filled/);

  // At twice their sizes there is no room: what would fit is offered, and done by a press.
  await choose(page, "Search", "quick");
  await choose(page, "Sizes", "keep");
  const scaled = card(page, "Pack").getByLabel("Scaled by");
  if (!(await scaled.isVisible()))
    await card(page, "Pack")
      .getByRole("button", { name: /more options?$/ })
      .click();
  await scaled.fill("2");
  await scaled.press("Enter");
  await expect(said(page)).toContainText("they would");
  await page.getByRole("button", { name: /^Scale by / }).click();
  await expect(said(page)).toHaveText("Pack 9 shells");
});

test("groups get blocks that share nothing", async ({ page }) => {
  await openNew(page, "some.obj", some());
  await stage(page, "Place").click();
  await choose(page, "Search", "quick");
  await choose(page, "Groups by", "material");
  await page.keyboard.press("p");
  await expect(said(page)).toHaveText("Pack 9 shells in 2 blocks");
  const blocks = await written(page);
  const [oak, tin] = [about(blocks.slice(0, 4)), about(blocks.slice(4))];
  expect(Math.max(oak.u0 - tin.u1, tin.u0 - oak.u1, oak.v0 - tin.v1, tin.v0 - oak.v1)).toBeGreaterThan(0);
});
