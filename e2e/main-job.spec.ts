import { readFileSync } from "node:fs";
import { expect, test } from "@playwright/test";
import { measure } from "../src/core/check/measure";
import { readGltf } from "../src/core/formats/gltf/read";
import { readObj } from "../src/core/formats/obj-read";
import {
  at,
  bringIn,
  card,
  clothObj,
  doOn,
  drumObj,
  onBench,
  openCard,
  openNew,
  pane,
  picked,
  said,
  stage,
} from "./table";

test("from a file to a packed layout and back to a file", async ({ page }) => {
  await bringIn(page, "drum.obj", drumObj());
  await expect(stage(page, "Seams")).toContainText("1 shell");
  await expect(stage(page, "Unfold")).toContainText("nothing unfolded");

  // A loop: double click on the side of the drum takes the whole line of edges, here that round it.
  const middle = await at(page, "form", 0.455, 0.577);
  await page.mouse.dblclick(middle.x, middle.y);
  await expect(picked(page)).toHaveText("24 edges");
  await page.keyboard.press("c");
  await expect(said(page)).toContainText("Cut");

  // Creased parts the caps from the side; the closed ring that is left is named and opened up.
  await page.keyboard.press("Escape");
  await page.keyboard.press("k");
  await expect(said(page)).toContainText("Creased at 50°");
  await expect(stage(page, "Seams")).not.toContainText("1 shell");
  await page.keyboard.press("u");
  await expect(said(page)).toContainText("two borders");
  await stage(page, "Unfold").click();
  await card(page, "Unfold")
    .getByRole("button", { name: /^Open up/ })
    .click();
  await expect(said(page)).toContainText("Open up");
  await page.keyboard.press("Escape");
  await page.keyboard.press("u");
  await expect(said(page)).toContainText("Unfold");
  await expect(stage(page, "Unfold")).toContainText("stretch 1.00");

  await stage(page, "Place").click();
  const before = await stage(page, "Place").textContent();
  await doOn(page, "Pack");
  await expect(said(page)).toContainText("Pack");
  await expect(stage(page, "Place")).not.toHaveText(before!);
  await expect(card(page, "Pack").getByTestId("result")).toContainText("Filled");
  const packed = await stage(page, "Place").textContent();

  // Undo brings the old figure, redo the new one, a reload keeps it.
  await page.keyboard.press("Control+z");
  await expect(stage(page, "Place")).toHaveText(before!);
  await page.keyboard.press("Control+Shift+z");
  await expect(stage(page, "Place")).toHaveText(packed!);
  await page.reload();
  await onBench(page);
  await expect(stage(page, "Place")).toHaveText(packed!);

  // The files read back are whole and say the same.
  await stage(page, "Hand off").click();
  const [obj] = await Promise.all([page.waitForEvent("download"), doOn(page, "Export OBJ")]);
  const figures = measure(readObj(readFileSync(await obj.path()), { name: "drum.obj" }));
  expect(figures).toMatchObject({ cornersWithoutUv: 0, flippedTriangles: 0, overlapShare: 0, faces: 146 });
  expect(figures.shellGapPx!).toBeGreaterThanOrEqual(8);
  const [glb] = await Promise.all([page.waitForEvent("download"), doOn(page, "Export GLB")]);
  const again = measure(await readGltf(readFileSync(await glb.path()), { name: "drum.glb" }));
  expect(again.shells).toBe(figures.shells);
  expect(again.symmetricDirichlet!).toBeCloseTo(figures.symmetricDirichlet!, 4);
  const [svg] = await Promise.all([page.waitForEvent("download"), doOn(page, "Pattern sheet")]);
  expect(readFileSync(await svg.path(), "utf8")).toContain("<svg");
});

test("a path from the last edge is shown before it is taken, and joined again after cutting", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  const cut = (await openCard(page, "Cut")).getByRole("button", { name: /^Cut( |$)/ });
  const from = await at(page, "form", 0.5, 0.45);
  const to = await at(page, "form", 0.62, 0.72);
  await page.mouse.click(from.x, from.y);
  await expect(picked(page)).toHaveText("1 edge");
  const seams = await stage(page, "Seams").textContent();
  await page.keyboard.down("Alt");
  await page.mouse.click(to.x, to.y);
  await page.keyboard.up("Alt");
  // A press holds although what it would come to is told only while the button is down.
  const { x, y, width } = (await cut.boundingBox())!;
  await page.mouse.move(x + width / 2, y + 3);
  await page.mouse.down();
  await expect(card(page, "Cut").getByTestId("foretold")).toBeVisible();
  await expect(picked(page)).toHaveText(/^([3-9]|1\d) edges$/);
  await page.mouse.up();
  await expect(said(page)).toContainText("Cut");
  await doOn(page, "Join");
  await expect(said(page)).toContainText("Join");
  await expect(stage(page, "Seams")).toHaveText(seams!);
});

test("Draft lays out everything in one press; a box in Sheet picks; shells are moved by handles and by numbers", async ({
  page,
}) => {
  await openNew(page, "drum.obj", drumObj());
  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft:");
  await expect(stage(page, "Check")).toContainText("all well");

  await page.keyboard.press("4");
  const a = await at(page, "sheet", 0.03, 0.1);
  const b = await at(page, "sheet", 0.97, 0.97);
  await page.mouse.move(a.x, a.y);
  await page.mouse.down();
  await page.mouse.move(b.x, b.y, { steps: 4 });
  await page.mouse.up();
  await expect(picked(page)).toHaveText(/^\d+ shells?$/);
  await expect(page.locator('[data-grip="turn"]')).toBeVisible();

  const grip = (await page.locator('[data-grip="move"]').boundingBox())!;
  await page.mouse.move(grip.x + grip.width / 2, grip.y + grip.height / 2);
  await page.mouse.down();
  await page.mouse.move(grip.x + grip.width / 2 + 60, grip.y + grip.height / 2 - 30, { steps: 4 });
  await page.mouse.up();
  await expect(said(page)).toContainText("Move");
  await stage(page, "Check").click();
  await expect(card(page, "Figures").getByRole("row", { name: /out of tile/ })).not.toContainText(/tile0$/);
  await page.keyboard.press("Control+z");
  await expect(said(page)).toContainText("Undone: Move");

  await stage(page, "Place").click();
  const moving = await openCard(page, "Move, turn, scale");
  await moving.getByRole("textbox", { name: "Turn" }).fill("90");
  await doOn(page, "Move, turn, scale");
  await expect(said(page)).toContainText("Turn");
  await moving.getByRole("textbox", { name: "Turn" }).fill("0");
  await moving.getByRole("textbox", { name: "Turn" }).blur();
  await page.keyboard.press("Escape");

  // The same by keyboard: R takes the tool, R again puts the caret into its number, Enter scales.
  await pane(page, "sheet").click({ position: { x: 5, y: 60 } });
  await page.keyboard.press("Control+a");
  await page.keyboard.press("r");
  await page.keyboard.press("r");
  await page.keyboard.type("0.5");
  await page.keyboard.press("Enter");
  await expect(said(page)).toContainText(/Scale \d+ shell/);
});

test("pointing in one pane lights the other: the same selection in both", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft:");
  await page.keyboard.press("3");
  const shot = async (name: "form" | "sheet") => (await pane(page, name).screenshot()).toString("base64");
  const still = await shot("form");
  await page.keyboard.press("4");
  const spot = await at(page, "sheet", 0.3, 0.62);
  await page.mouse.click(spot.x, spot.y);
  await expect(picked(page)).toHaveText("1 shell");
  await expect.poll(() => shot("form")).not.toBe(still);
});

test("points are pinned and pulled with their shell after them; seams are cut with the unfolding behind them", async ({
  page,
}) => {
  await openNew(page, "cloth.obj", clothObj(14));
  await page.keyboard.press("u");
  await expect(said(page)).toContainText("Unfold 1 shell");
  await page.keyboard.press("6");
  const middle = await at(page, "sheet", 0.5, 0.5);
  await page.mouse.click(middle.x - 60, middle.y);
  await expect(picked(page)).toHaveText("1 UV point");
  await page.keyboard.down("Shift");
  await page.mouse.click(middle.x + 60, middle.y - 60);
  await page.keyboard.up("Shift");
  await page.keyboard.press("Shift+n");
  await expect(said(page)).toContainText("Pin 2 points");

  await page.keyboard.press("Shift+w");
  await page.mouse.move(middle.x + 50, middle.y + 40);
  await page.mouse.down();
  await page.mouse.move(middle.x + 80, middle.y + 10, { steps: 4 });
  // The shell follows before anything is let go, and Escape takes all of it back.
  await expect(stage(page, "Unfold")).toContainText(/stretch 1\.0[1-9]/);
  await page.keyboard.press("Escape");
  await page.mouse.up();
  await expect(said(page)).not.toContainText("Pull");
  await page.mouse.move(middle.x + 50, middle.y + 40);
  await page.mouse.down();
  await page.mouse.move(middle.x + 80, middle.y + 10, { steps: 4 });
  await page.mouse.up();
  await expect(said(page)).toContainText("Pull 1 UV point");
  await page.keyboard.press("Control+z");
  await expect(said(page)).toContainText("Undone: Pull");

  // One direction only, by the card.
  await stage(page, "Unfold").click();
  const unfolding = await openCard(page, "Unfold");
  const along = async (way: string) => {
    await unfolding.getByLabel("Along").click();
    await page.getByRole("option", { name: way, exact: true }).click();
  };
  await along("u");
  await doOn(page, "Unfold");
  await expect(said(page)).toContainText("Unfold 1 shell");
  await along("both");

  await page.keyboard.press("2");
  await page.getByRole("switch", { name: "Unfold after each cut" }).click({ force: true });
  await page.mouse.dblclick(middle.x, middle.y);
  await page.keyboard.press("c");
  await expect(said(page)).toContainText(/Unfold \d shells?/);
});

test("points are moved with those about them, as far as the falloff in the tray says, whatever is typed there", async ({
  page,
}) => {
  await openNew(page, "cloth.obj", clothObj(14));
  await page.keyboard.press("u");
  await expect(said(page)).toContainText("Unfold 1 shell");
  await page.keyboard.press("6");
  const middle = await at(page, "sheet", 0.5, 0.5);
  await page.mouse.click(middle.x, middle.y);
  await expect(picked(page)).toHaveText("1 UV point");
  await page.keyboard.press("w");
  const tray = page.getByRole("toolbar", { name: "What fits what is picked" });
  const falloff = tray.getByRole("textbox", { name: "Falloff" });
  const alone = (await pane(page, "sheet").screenshot()).toString("base64");
  // More than is allowed becomes the most that is, a sum is worked out, and what is no number is let go.
  for (const [typed, taken] of [
    ["500", "100 tiles"],
    ["0.1*2", "0.2 tiles"],
    ["wide", "0.2 tiles"],
  ] as const) {
    await falloff.fill(typed);
    await falloff.press("Enter");
    await falloff.blur();
    await expect(falloff).toHaveValue(taken);
  }
  // How much each point takes is shown.
  await expect.poll(async () => (await pane(page, "sheet").screenshot()).toString("base64")).not.toBe(alone);
  await page.keyboard.press("]");
  await expect(falloff).toHaveValue("0.25 tiles");
  await tray.getByText("Sharp", { exact: true }).click();
  await page.mouse.move(middle.x, middle.y);
  await page.mouse.down();
  await page.mouse.move(middle.x + 30, middle.y + 10, { steps: 4 });
  await page.mouse.up();
  await expect(said(page)).toContainText("Move 1 UV point with falloff");
  // The relax brush brings it back, as one step; what is drawn while Escape is pressed is let go.
  await page.keyboard.press("Escape");
  await page.keyboard.press("Escape");
  await page.keyboard.press("Shift+S");
  await tray.getByText("Smooth", { exact: true }).click();
  await expect(tray.getByRole("textbox", { name: "Strength" })).toHaveValue("0.5");
  const figures = stage(page, "Unfold");
  const before = (await figures.textContent())!;
  await page.mouse.move(middle.x - 10, middle.y);
  await page.mouse.down();
  await page.mouse.move(middle.x + 30, middle.y + 10, { steps: 5 });
  // The figures follow before anything is let go, and Escape takes all of it back.
  await expect.poll(() => figures.textContent()).not.toBe(before);
  await page.keyboard.press("Escape");
  await page.mouse.up();
  await expect(figures).toHaveText(before);
  await expect(said(page)).not.toContainText("with the brush");
  await page.mouse.move(middle.x - 10, middle.y);
  await page.mouse.down();
  await page.mouse.move(middle.x + 30, middle.y + 10, { steps: 5 });
  await page.mouse.up();
  await expect(said(page)).toContainText("Relax cloth with the brush");
  await page.keyboard.press("Control+z");
  await expect(said(page)).toContainText("Undone: Relax cloth with the brush");

  // It works on the form as well.
  const onForm = await at(page, "form", 0.5, 0.5);
  await page.mouse.move(onForm.x - 10, onForm.y);
  await page.mouse.down();
  await page.mouse.move(onForm.x + 30, onForm.y + 10, { steps: 5 });
  await page.mouse.up();
  await expect(said(page)).toHaveText("Relax cloth with the brush");
});
