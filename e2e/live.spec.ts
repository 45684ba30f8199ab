import { readFile } from "node:fs/promises";
import { expect, type Page, test } from "@playwright/test";
import { writeObj } from "../src/core/formats/obj-write";
import { squares } from "../src/testing/squares";
import { at, card, clothObj, doOn, drumObj, openNew, pane, picked, said, stage } from "./table";

/** Two squares beside each other, 0.3 apart, as a file. */
const twoSquares = (): Uint8Array =>
  writeObj(
    squares([
      [0.1, 0.4, 0.2, 0.2],
      [0.6, 0.4, 0.2, 0.2],
    ]),
    "squares",
  ).obj;

/** Picks the shell in the middle of which a point of UV lies, the tile being framed, and takes hold of it. */
async function hold(page: Page, u: number, v: number): Promise<{ x: number; y: number; tile: number }> {
  await page.keyboard.press("4");
  const tile = (await page.getByText("1001", { exact: true }).boundingBox())!;
  const sheet = (await pane(page, "sheet").boundingBox())!;
  // All is framed: the two squares reach from 0.1 to 0.8.
  const scale = (0.86 * sheet.width) / 0.7;
  const x = sheet.x + sheet.width / 2 + (u - 0.45) * scale;
  const y = sheet.y + sheet.height / 2 - (v - 0.5) * scale;
  expect(tile).toBeTruthy();
  await page.mouse.click(x, y);
  await expect(picked(page)).toHaveText("1 shell");
  await expect(page.locator('[data-grip="move"]')).toBeVisible();
  return { x, y, tile: scale };
}

test("figures, rail and findings follow shells under the pointer; what is meant is accepted, and reported", async ({
  page,
}) => {
  await openNew(page, "squares.obj", twoSquares());
  await stage(page, "Check").click();
  await expect(stage(page, "Check")).toContainText("all well");
  const { x, y, tile } = await hold(page, 0.2, 0.5);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 0.35 * tile, y, { steps: 6 });
  await page.mouse.move(x + 0.45 * tile, y, { steps: 6 });
  // Not let go yet: the findings tell of the overlap already, and nothing was done to the document.
  await expect(stage(page, "Check")).toContainText("finding");
  await expect(card(page, "Findings")).toContainText("1 pair of shells");
  await expect(page.getByRole("button", { name: "Undo" })).toBeDisabled();
  await page.keyboard.press("Escape");
  await expect(stage(page, "Check")).toContainText("all well");
  await page.mouse.up();
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 0.45 * tile, y, { steps: 6 });
  await page.mouse.up();
  await expect(said(page)).toContainText("Move 1 shell");
  await expect(card(page, "Findings")).toContainText("1 pair of shells");

  await card(page, "Findings").getByRole("button", { name: "Accept" }).click();
  await expect(said(page)).toContainText("Accept 1 overlap");
  await expect(stage(page, "Check")).toContainText("all well");
  await expect(card(page, "Findings")).toContainText("Accepted as intended:");
  await stage(page, "Hand off").click();
  const written = page.waitForEvent("download");
  await doOn(page, "Check report");
  const report = await readFile(await (await written).path(), "utf8");
  expect(report).toContain("UV 1: all well");
  expect(report).toContain("Accepted: ");
  await card(page, "Findings").getByRole("button", { name: "Take back" }).click();
  await expect(stage(page, "Check")).toContainText("1 finding");
  await stage(page, "Hand off").click();
  await doOn(page, "Export OBJ");
  await expect(said(page)).toContainText("UV 1 went out with 1 finding:");
});

test("the resolution in Sheet's title is that of gaps and densities, and is undone like any edit", async ({ page }) => {
  await openNew(page, "squares.obj", twoSquares());
  const title = page.locator('section[data-pane="sheet"]');
  await expect(title).toContainText("gap 614 px");
  await page.locator('input[aria-label="Resolution of the tiles"]').click();
  await page.getByRole("option", { name: "1024 px" }).click();
  await expect(title).toContainText("gap 307 px");
  await expect(said(page)).toContainText("Resolution of the tiles: 1024 px");
  await stage(page, "Check").click();
  await expect(card(page, "Figures").getByRole("row", { name: /Smallest gap/ })).toContainText("307.20 px");
  await page.keyboard.press("Control+z");
  await expect(title).toContainText("gap 614 px");
});

test("a page that may not share memory does the same, and stops its work as well", async ({ page }) => {
  // As a server without TLS sends it to another machine: without the headers that isolate a page.
  const isPage = (url: URL) => url.pathname === "/" || url.pathname.startsWith("/bench/");
  await page.route(isPage, async (route) => {
    const response = await route.fetch();
    const headers = response.headers();
    delete headers["cross-origin-opener-policy"];
    delete headers["cross-origin-embedder-policy"];
    await route.fulfill({ response, headers });
  });
  await openNew(page, "drum.obj", drumObj());
  expect(await page.evaluate(() => crossOriginIsolated)).toBe(false);
  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft:");
  await expect(stage(page, "Check")).toContainText("all well");
  await page.keyboard.press("4");
  await page.keyboard.press("Control+a");
  await expect(picked(page)).toHaveText(/^\d+ shells?$/);
  const grip = (await page.locator('[data-grip="move"]').boundingBox())!;
  const [x, y] = [grip.x + grip.width / 2, grip.y + grip.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 200, y, { steps: 8 });
  await expect(stage(page, "Check")).toContainText("finding");
  await page.mouse.up();
  await expect(said(page)).toContainText("Move");
  await page.keyboard.press("Control+z");
  await expect(said(page)).toContainText("Undone: Move");
  await expect(stage(page, "Check")).toContainText("all well");
  // Work that cannot see the signal is ended with its worker; the next begins on the document as it was.
  await openNew(page, "cloth.obj", clothObj(110));
  await page.keyboard.press("d");
  await page.getByRole("button", { name: "Stop" }).press("Enter");
  await expect(said(page)).toContainText("Draft was stopped; nothing has changed.");
  await expect(stage(page, "Unfold")).toContainText("nothing unfolded");
  const middle = await at(page, "form", 0.5, 0.5);
  await page.mouse.click(middle.x, middle.y);
  await expect(picked(page)).toHaveText("1 edge");
  await page.keyboard.press("c");
  await expect(said(page)).toContainText("Cut");
});
