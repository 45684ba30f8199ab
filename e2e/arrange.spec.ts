import { readFile } from "node:fs/promises";
import { expect, type Page, test } from "@playwright/test";
import { writeGlb } from "../src/core/formats/gltf/write";
import { readAsset } from "../src/core/formats/read-asset";
import { decodeImage } from "../src/core/images/pixels";
import { codecs, painted, ramp } from "../src/testing/painted";
import { squares } from "../src/testing/squares";
import { card, doOn, openNew, picked, said, showSide, stage } from "./table";

const SIDE = 64;

/** Three squares of 8 texels, in a row in the middle of the tile, under an image whose every texel is another. */
async function paintedSquares(): Promise<Uint8Array> {
  const row = [8, 24, 40].map((u) => [u / SIDE, 32 / SIDE, 8 / SIDE, 8 / SIDE] as const);
  return (await writeGlb(await painted(squares(row), { color: ramp(SIDE) }))).bytes;
}

/** The first image of a GLB that was handed to the browser. */
async function writtenImage(page: Page) {
  const written = page.waitForEvent("download");
  await doOn(page, "Export GLB");
  const asset = await readAsset(new Uint8Array(await readFile(await (await written).path())), { name: "out.glb" });
  // What it says comes a moment after the file, and would lie over what is said next.
  await expect(said(page)).toContainText("Wrote");
  expect(asset.images).toHaveLength(1);
  return decodeImage(asset.files![asset.images[0]!.key]!, await codecs(), "it");
}

test("painted images go along, shells push others, and go where it is free", async ({ page }) => {
  await openNew(page, "painted.glb", await paintedSquares());
  await showSide(page, "Shells");
  const rows = page.getByRole("listbox", { name: "Shells" }).getByRole("option");
  await expect(rows).toHaveCount(3);
  await rows.first().click();
  await stage(page, "Place").click();
  await expect(card(page, "Pack")).toContainText("What is moved comes off them");
  await card(page, "Pack").getByRole("checkbox", { name: "Move the images too" }).check();

  // A square of the grid is 8 texels of the image.
  await page.keyboard.press("Alt+ArrowUp");
  await expect(said(page)).toHaveText("Nudge 1 shell up by a grid square");
  await stage(page, "Hand off").click();
  const image = await writtenImage(page);
  const texel = (x: number, up: number) => [...image.data.slice(4 * ((SIDE - 1 - up) * SIDE + x)).slice(0, 2)];
  expect(texel(10, 45)).toEqual([4 * 10, 4 * (SIDE - 1 - 37)]);
  expect(texel(26, 37)).toEqual([4 * 26, 4 * (SIDE - 1 - 37)]);
  await page.keyboard.press("Control+z");
  await expect(said(page)).toContainText("Undone: Nudge");
  expect([...(await writtenImage(page)).data]).toEqual([...ramp(SIDE).data]);

  // Dragged to the right the first pushes the second, and that the third.
  await stage(page, "Place").click();
  await card(page, "Pack").getByRole("checkbox", { name: "Move the images too" }).uncheck();
  await page.keyboard.press("w");
  await page.getByRole("combobox", { name: "Snap" }).selectOption("push");
  const grip = (await page.locator('[data-grip="move"]').boundingBox())!;
  const [x, y] = [grip.x + grip.width / 2, grip.y + grip.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 3 * grip.width, y, { steps: 5 });
  await page.mouse.up();
  await expect(said(page)).toHaveText("Move 1 shell, pushing 2");
  // The next drag begins while the undo is on its way, and waits for it.
  await page.keyboard.press("Control+z");
  await page.getByRole("combobox", { name: "Snap" }).selectOption("shells");
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 1.5 * grip.width, y, { steps: 5 });
  await page.mouse.up();
  await expect(said(page)).toHaveText("Move 1 shell");
  const moved = (await page.locator('[data-grip="move"]').boundingBox())!;
  expect(moved.x - grip.x).toBeLessThan(1.05 * grip.width);

  // Free space is shown, tells what would go there, and takes what is picked.
  await page.keyboard.press("Shift+O");
  const box = page.getByRole("button", { name: /^Empty box/ }).first();
  await box.press("Enter");
  await expect(said(page)).toContainText("Move 1 shell into free space");
  // The first leaves the tool, the second lets go of what is picked.
  await page.keyboard.press("Escape");
  await page.keyboard.press("Escape");
  await expect(picked(page)).toHaveText("Nothing picked");
  await box.press("Enter");
  await expect(said(page)).toContainText("3 shells could go there");
  await expect(picked(page)).toHaveText("3 shells");
});
