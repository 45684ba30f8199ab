import { readFileSync } from "node:fs";
import { expect, type FileChooser, type Page, test } from "@playwright/test";
import axe from "axe-core";
import { measure } from "../src/core/check/measure";
import { readObj } from "../src/core/formats/obj-read";
import { drumObj, onBench, openNew, picked, said, showSide, stage } from "./table";

/** Asks for an action by its name, by keyboard. */
async function ask(page: Page, words: string): Promise<void> {
  await page.keyboard.press("Control+k");
  await expect(page.getByRole("textbox", { name: "Find an action" })).toBeFocused();
  await page.keyboard.type(words);
  await expect(page.getByRole("dialog").getByRole("button").first()).toContainText(words.slice(0, 8));
  await page.keyboard.press("Enter");
}

test("the whole job is done by keyboard alone, from the file to the file", async ({ page }) => {
  // Whoever waits for it is told of the dialog; asked for only when the key is pressed, it may come too early to be told.
  const chosen = new Promise<FileChooser>((resolve) => page.on("filechooser", resolve));
  await page.goto("/");
  await page.waitForLoadState("networkidle");
  const bring = page.getByRole("button", { name: "Bring in a mesh" });
  // The page listens only once it has come to life, which React notes at its elements.
  await expect
    .poll(() => bring.evaluate((b) => Object.keys(b).some((key) => key.startsWith("__reactProps"))))
    .toBe(true);
  for (let k = 0; k < 12 && !(await bring.evaluate((b) => b === document.activeElement)); k++)
    await page.keyboard.press("Tab");
  await expect(bring).toBeFocused();
  await page.keyboard.press("Enter");
  await (await chosen).setFiles({ name: "drum.obj", mimeType: "text/plain", buffer: drumObj() });
  await expect(page.getByRole("button", { name: "Import" })).toBeFocused({ timeout: 30_000 });
  await page.keyboard.press("Enter");
  await onBench(page);

  await ask(page, "Pick: Sharp edges");
  await expect(picked(page)).toHaveText("48 edges");
  await page.keyboard.press("c");
  await expect(said(page)).toContainText("Cut");
  await page.keyboard.press("Escape");
  await page.keyboard.press("o");
  await expect(said(page)).toContainText("Open up");
  await page.keyboard.press("u");
  await expect(said(page)).toContainText("Unfold");
  await page.keyboard.press("l");
  await expect(said(page)).toContainText("Level");
  await page.keyboard.press("p");
  await expect(said(page)).toContainText("Pack");
  await expect(stage(page, "Check")).toContainText("all well");

  // A shell is picked from the table, turned by a number, and put back by undo.
  await page.getByRole("radiogroup", { name: "What the column shows" }).getByRole("radio").first().focus();
  await page.keyboard.press("ArrowRight");
  const shells = page.getByRole("listbox", { name: "Shells" });
  for (let k = 0; k < 12 && !(await shells.evaluate((b) => b === document.activeElement)); k++)
    await page.keyboard.press("Tab");
  await page.keyboard.press("ArrowDown");
  await expect(picked(page)).toHaveText("1 shell");
  await page.keyboard.press("e");
  await page.keyboard.press("e");
  await page.keyboard.type("90");
  await page.keyboard.press("Enter");
  await expect(said(page)).toContainText("Turn 1 shell");
  await page.keyboard.press("Escape");
  await page.locator("body").press("Control+z");
  await expect(said(page)).toContainText("Undone: Turn");

  const [file] = await Promise.all([page.waitForEvent("download"), ask(page, "Export OBJ")]);
  const figures = measure(readObj(readFileSync(await file.path()), { name: "drum.obj" }));
  expect(figures).toMatchObject({ cornersWithoutUv: 0, flippedTriangles: 0, overlapShare: 0, faces: 146 });
});

/** What a checker of accessibility finds that would keep somebody out; of colours alone where the rest is known. */
async function serious(page: Page, coloursOnly = false): Promise<string[]> {
  await page.evaluate(axe.source);
  return page.evaluate(async (only) => {
    type Found = { violations: Array<{ id: string; impact: string; nodes: Array<{ html: string }> }> };
    const { axe: checker } = globalThis as unknown as { axe: { run(options: object): Promise<Found> } };
    const { violations } = await checker.run(only ? { runOnly: ["color-contrast"] } : {});
    return violations
      .filter((v) => v.impact === "serious" || v.impact === "critical")
      .map(
        (v) =>
          `${v.id}: ${v.nodes
            .slice(0, 3)
            .map((n) => n.html.slice(0, 160))
            .join(" | ")}`,
      );
  }, coloursOnly);
}

test("nothing keeps anybody out, in either theme", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft:");
  for (const theme of ["light", "dark"]) {
    const again = theme === "dark"; // the themes differ in colours only
    for (const name of ["Brief", "Seams", "Place", "Check", "Hand off"]) {
      await stage(page, name).click();
      expect.soft(await serious(page, again), `${name}, ${theme}`).toEqual([]);
    }
    for (const side of ["Shells", "UV sets", "History", "Parts"] as const) {
      await showSide(page, side);
      expect.soft(await serious(page, again), `${side}, ${theme}`).toEqual([]);
    }
    await page.keyboard.press("Shift+?");
    await expect(page.getByRole("dialog", { name: "Keys" })).toBeVisible();
    expect.soft(await serious(page, again), `Keys, ${theme}`).toEqual([]);
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: theme === "light" ? "Dark theme" : "Light theme" }).click();
  }
  await page.goto("/");
  await page.waitForLoadState("networkidle");
  expect.soft(await serious(page), "Home").toEqual([]);
});
