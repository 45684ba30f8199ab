import { expect, test } from "@playwright/test";
import { doOn, drumObj, openNew, pane, picked, said, showSide, stage } from "./table";

test("shells are picked by bars, mirrored, nudged, parked, stacked and laid like others", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft:");
  await expect(stage(page, "Seams")).toContainText("3 shells");

  // The bars are reached by keys as well, and pick what is in them.
  await stage(page, "Level").click();
  const density = page.getByRole("region", { name: "Density" });
  await expect(density).toContainText("All within the limit");
  await density.getByRole("list", { name: "Shells by density" }).getByRole("button").first().press("Enter");
  await expect(picked(page)).toHaveText("3 shells");
  await expect(density.locator("path").first()).toBeVisible();

  // Arrow keys go by a pixel, and with Alt by a square of the grid.
  await pane(page, "sheet").hover();
  await page.keyboard.press("ArrowRight");
  await expect(said(page)).toHaveText("Nudge 3 shells right by a pixel");
  await page.keyboard.press("Alt+ArrowUp");
  await expect(said(page)).toHaveText("Nudge 3 shells up by a grid square");

  // A mirrored shell is listed for as long as it is one.
  await showSide(page, "Shells");
  const rows = page.getByRole("listbox", { name: "Shells" }).getByRole("option");
  await rows.first().click();
  await expect(picked(page)).toHaveText("1 shell");
  await stage(page, "Place").click();
  await doOn(page, "Mirror shells");
  await stage(page, "Level").click();
  await expect(density).toContainText("1 shell mirrored");
  await page.keyboard.press("Control+z");
  await expect(density).not.toContainText("mirrored");

  // Parked shells are counted, and come back.
  await stage(page, "Place").click();
  await doOn(page, "Park");
  await expect(said(page)).toHaveText("Park 1 shell");
  await stage(page, "Level").click();
  await expect(density).toContainText("1 shell parked");
  await density.getByRole("button", { name: "Bring back" }).click();
  await expect(said(page)).toHaveText("Bring back 1 shell");
  await expect(density).not.toContainText("parked");

  // The lids are twins; one is laid like the other by copy and paste.
  await page.keyboard.press("Escape");
  await stage(page, "Place").click();
  await doOn(page, "Stack twins");
  await expect(said(page)).toHaveText("Stack 2 shells in 1 stack");
  // A stack is one line, and one press; opened, it shows its shells.
  const stack = rows.filter({ hasText: "×2" });
  await expect(rows).toHaveCount(2);
  await stack.click();
  await expect(picked(page)).toHaveText("2 shells");
  await stack.press("ArrowRight");
  await expect(rows).toHaveCount(4);
  await rows.nth(2).click();
  await expect(picked(page)).toHaveText("1 shell");
  await pane(page, "sheet").hover();
  await page.keyboard.press("Control+z");
  await expect(said(page)).toContainText("Undone");
  await page.keyboard.press("Escape");
  await page.keyboard.press("Control+c");
  await expect(said(page)).toContainText("Pick the shells");
  await rows.nth(1).click();
  await page.keyboard.press("Control+c");
  await expect(said(page)).toContainText("Layout of 1 shell copied");
  await rows.nth(2).click();
  await pane(page, "sheet").hover();
  await page.keyboard.press("Control+v");
  await expect(said(page)).toHaveText("Paste the layout of 1 shell onto 1");
});
