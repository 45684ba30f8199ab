import { expect, test } from "@playwright/test";
import {
  at,
  card,
  doOn,
  drumObj,
  onBench,
  openCard,
  openNew,
  pane,
  picked,
  pickedCount,
  said,
  showSide,
  stage,
} from "./table";

test("the table of shells sorts, filters and picks, and the tray acts on what is picked", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  const tray = page.getByRole("toolbar", { name: "What fits what is picked" });
  await expect(tray).toContainText("Operations for what you pick appear here.");
  await page.keyboard.press("k");
  await expect(said(page)).toContainText("Creased");
  await showSide(page, "Shells");
  const lines = page.getByRole("listbox", { name: "Shells" }).getByRole("option");
  await expect(lines).toHaveCount(3);
  // None of them has coordinates yet.
  await page.getByRole("button", { name: /^unmapped 3/ }).click();
  await expect(lines).toHaveCount(3);
  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft:");
  await expect(page.getByRole("button", { name: /^unmapped/ })).toHaveCount(0);
  await page.getByRole("button", { name: "Sort by area" }).click();
  await lines.first().click();
  await expect(picked(page)).toHaveText("1 shell");
  await page.keyboard.press("ArrowDown");
  await expect(lines.nth(1)).toHaveAttribute("aria-selected", "true");
  await expect(lines.first()).toHaveAttribute("aria-selected", "false");
  await lines.first().click({ modifiers: ["Shift"] });
  await expect(picked(page)).toHaveText("2 shells");
  await page.getByRole("textbox", { name: "Filter shells" }).fill("drum 2");
  await expect(lines).toHaveCount(1);
  await page.getByRole("textbox", { name: "Filter shells" }).fill("nobody");
  await expect(page.getByText("No shell is called that.")).toBeVisible();

  await tray.getByRole("button", { name: /^Unfold/ }).click();
  await expect(said(page)).toContainText("Unfold 2 shells");
  await tray.getByRole("button", { name: "Hide the tray" }).click();
  await expect(tray).toHaveCount(0);
  await page.reload();
  await expect(stage(page, "Seams")).toContainText("shell");
  await expect(tray).toHaveCount(0);
  await page.keyboard.press("Control+k");
  await page.getByRole("textbox", { name: "Find an action" }).fill("Tray:");
  await page.keyboard.press("Enter");
  await expect(tray).toBeVisible();
});

test("one row is open, others are kept open beside it, and each is closed by itself", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await stage(page, "Place").click();
  await expect(card(page, "Pack")).toBeVisible();
  const moving = await openCard(page, "Move, turn, scale");
  await expect(card(page, "Pack")).toHaveCount(0);
  await moving.getByRole("button", { name: "keep open" }).click();
  await openCard(page, "Pack");
  await expect(moving).toBeVisible();
  await moving.getByRole("button", { name: "Close Move, turn, scale" }).click();
  await expect(moving).toHaveCount(0);
  await expect(card(page, "Pack")).toBeVisible();
});

test("at 1024 x 720 nothing is cut off, and everything answers", async ({ page }) => {
  await page.setViewportSize({ width: 1024, height: 720 });
  await openNew(page, "drum.obj", drumObj());
  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft:");
  const inside = async (name: string, box: { x: number; y: number; width: number; height: number } | null) => {
    expect(box, name).not.toBeNull();
    expect(box!.x, name).toBeGreaterThanOrEqual(0);
    expect(box!.x + box!.width, name).toBeLessThanOrEqual(1024);
    expect(box!.y + box!.height, name).toBeLessThanOrEqual(720);
  };
  for (const name of ["Brief", "Seams", "Unfold", "Level", "Place", "Check", "Hand off"]) {
    const button = stage(page, name);
    await inside(name, await button.boundingBox());
    // The words of a stage are there whole.
    expect(await button.evaluate((b) => b.scrollWidth - b.clientWidth), name).toBeLessThanOrEqual(1);
    await button.click();
    const column = page.getByRole("complementary", { name: `${name} cards` });
    expect(await column.evaluate((c) => c.scrollWidth - c.clientWidth), name).toBeLessThanOrEqual(0);
  }
  for (const name of ["Find an action", "Undo"])
    await inside(
      name,
      await page
        .getByRole("button", { name: new RegExp(`^${name}`) })
        .first()
        .boundingBox(),
    );
  const middle = await at(page, "form", 0.5, 0.5);
  await page.keyboard.press("3");
  await page.mouse.click(middle.x, middle.y);
  await expect(picked(page)).toHaveText("1 face");
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(1024);
});

test("loops, rings and what lies beside are picked by key, by row and from the tray", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  const middle = await at(page, "form", 0.5, 0.5);
  await page.mouse.click(middle.x, middle.y);
  await expect(picked(page)).toHaveText("1 edge");
  const tray = page.getByRole("toolbar", { name: "What fits what is picked" });
  await tray.getByRole("button", { name: /^Loop/ }).click();
  await expect(said(page)).toHaveText(/^\d+ edges picked\.$/);
  const loop = (await picked(page).textContent())!;
  await page.keyboard.press(".");
  await expect(picked(page)).not.toHaveText(loop);
  await page.keyboard.press("b");
  await expect(picked(page)).toHaveText(loop);
  await doOn(page, "Pick: Sharp edges");
  await expect(picked(page)).toHaveText("48 edges");
  // Their sizes are shown as numbers, and keys go back to the bench when they are closed.
  await picked(page).click();
  const sizes = page.getByRole("dialog");
  await expect(sizes).toContainText(/Length in all\s*\d/);
  await expect(sizes.getByRole("button", { name: "Copy along y" })).toHaveText(/^\d[\d.]* m$/);
  await page.keyboard.press("Escape");
  await expect(sizes).toHaveCount(0);
  await expect(picked(page)).toHaveText("48 edges");
  await page.keyboard.press("Shift+I");
  await expect(picked(page)).not.toHaveText("48 edges");
  // Held, a key shows the state before the last step in both panes; let go, the new one is there again.
  await page.keyboard.press("k");
  await expect(said(page)).toContainText("Creased");
  await page.keyboard.down("g");
  await expect(pane(page, "sheet")).toContainText("Before the last step");
  await expect(pane(page, "form")).toContainText("Before the last step");
  await page.keyboard.up("g");
  await expect(page.getByText("Before the last step")).toHaveCount(0);
});

test("the swatch is chosen in the title of Form, and kept", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await doOn(page, "Draft");
  await expect(said(page)).toContainText("Draft:");
  await page.getByRole("combobox", { name: "What the faces show in Form" }).selectOption("Swatch");
  const looks = () => pane(page, "form").screenshot();
  const before = await looks();
  await page.getByRole("button", { name: "Swatch: Letters, 8 cells across" }).click();
  await page.getByRole("radio", { name: "Circles" }).check();
  await page.getByRole("radiogroup", { name: "Cells of the swatch across a tile" }).getByText("32").click();
  await page.keyboard.press("Escape");
  // At once keys are the bench's again.
  await page.keyboard.press("4");
  await page.keyboard.press("Control+a");
  await expect(picked(page)).toHaveText(/^\d+ shells$/);
  await expect(page.getByRole("button", { name: "Swatch: Circles, 32 cells across" })).toBeFocused();
  await expect.poll(async () => (await looks()).equals(before)).toBe(false);
  await page.getByRole("link", { name: "Tavlin" }).click();
  await page.getByRole("link", { name: /drum/ }).first().click();
  await expect(page.getByRole("button", { name: "Swatch: Circles, 32 cells across" })).toBeVisible({ timeout: 30_000 });
});

test("a thread is laid by clicks, taken back and kept by keys; at its end every way on is offered", async ({
  page,
}) => {
  await openNew(page, "drum.obj", drumObj());
  const [a, b, beside] = [
    await at(page, "form", 0.5, 0.3),
    await at(page, "form", 0.5, 0.75),
    await at(page, "form", 0.4, 0.75),
  ];
  await page.keyboard.press("y");
  await expect(page.getByRole("button", { name: "Thread" })).toHaveAttribute("aria-pressed", "true");
  await page.mouse.click(a.x, a.y);
  await page.mouse.click(b.x, b.y);
  await page.mouse.click(beside.x, beside.y);
  await page.keyboard.press("Backspace");
  await page.keyboard.press("Enter");
  await expect(said(page)).toContainText(/^The thread is picked: [1-9]\d* edges?\.$/);
  const laid = await pickedCount(page);
  expect(laid).toBeGreaterThan(1);
  // A click beside everything leaves the selection as it is: the tool takes clicks for itself.
  await page.keyboard.press("n");
  await page.keyboard.press("Enter");
  await expect.poll(() => pickedCount(page)).toBeGreaterThan(laid + 3);
  await page.keyboard.press("b");
  await expect(picked(page)).toHaveText(`${laid} edges`);
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "Branches" })).toHaveAttribute("aria-pressed", "false");
  await expect(picked(page)).toHaveText(`${laid} edges`);
});

test("a lasso picks what lies in it with more than half; a slip costs one step of the selection's own undo", async ({
  page,
}) => {
  await openNew(page, "drum.obj", drumObj());
  await page.keyboard.press("3");
  await page.keyboard.press("Control+a");
  await expect(picked(page)).toHaveText("146 faces");
  await page.keyboard.press("a");
  await expect(page.getByRole("button", { name: "Lasso" })).toHaveAttribute("aria-pressed", "true");
  const line = await Promise.all(
    [0, 1, 2, 3, 4, 5].map((k) => at(page, "form", 0.5 + 0.3 * Math.cos(k), 0.5 + 0.3 * Math.sin(k))),
  );
  await page.mouse.move(line[0]!.x, line[0]!.y);
  await page.mouse.down();
  for (const { x, y } of line) await page.mouse.move(x, y, { steps: 3 });
  await page.mouse.up();
  const some = () => pickedCount(page);
  await expect.poll(some).toBeLessThan(40);
  expect(await some()).toBeGreaterThan(2);
  await page.keyboard.press("b");
  await expect(picked(page)).toHaveText("146 faces");
  // Whole parts are a kind of their own.
  await page.keyboard.press("5");
  const middle = await at(page, "form", 0.5, 0.5);
  await page.mouse.click(middle.x, middle.y);
  await expect(picked(page)).toHaveText("1 part");
});

test("panes are enlarged, stacked and swapped; each has looks of its own, and they are kept", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  const box = async (name: "form" | "sheet") => (await pane(page, name).boundingBox())!;
  const over = await at(page, "sheet", 0.5, 0.5);
  await page.mouse.move(over.x, over.y);
  await page.keyboard.press("x");
  await expect(pane(page, "form")).toHaveCount(0);
  await page.keyboard.press("x");
  await expect(pane(page, "form")).toBeVisible();
  await page.keyboard.press("Shift+X");
  await expect.poll(async () => (await box("sheet")).x < (await box("form")).x).toBe(true);
  await page.keyboard.press("Alt+x");
  await expect.poll(async () => (await box("sheet")).y < (await box("form")).y).toBe(true);
  const still = (await pane(page, "form").screenshot()).toString("base64");
  await page.getByRole("button", { name: "Look of Form" }).click();
  await page.getByRole("switch", { name: "Second view" }).click({ force: true });
  await page.getByRole("switch", { name: "Parallel" }).click({ force: true });
  await page.getByRole("button", { name: "top", exact: true }).click();
  await page.keyboard.press("Escape");
  const second = page.getByRole("region", { name: "Second view of Form" });
  await expect(second).toBeVisible();
  await expect.poll(async () => (await pane(page, "form").screenshot()).toString("base64")).not.toBe(still);
  // What is clicked in the second view is picked.
  await page.keyboard.press("3");
  const inner = (await second.boundingBox())!;
  await page.mouse.click(inner.x + inner.width / 2, inner.y + inner.height / 2);
  await expect(picked(page)).toHaveText("1 face");
  await page.getByRole("link", { name: "Tavlin" }).click();
  await page.getByRole("link", { name: /drum/ }).first().click();
  await onBench(page);
  await expect(second).toBeVisible();
  await expect.poll(async () => (await box("sheet")).y < (await box("form")).y).toBe(true);
});

test("a picture of one's own is dropped on a pane, kept in the library, and deleted from it", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft:");
  const shot = async () => (await pane(page, "sheet").screenshot()).toString("base64");
  const still = await shot();
  const drop = async (name: string, type: string) => {
    const transfer = await page.evaluateHandle(
      async ([name, type]) => {
        const canvas = new OffscreenCanvas(64, 64);
        const pen = canvas.getContext("2d")!;
        pen.fillStyle = "#1e7f86";
        pen.fillRect(0, 0, 64, 32);
        const all = new DataTransfer();
        all.items.add(new File([await canvas.convertToBlob()], name!, { type: type! }));
        return all;
      },
      [name, type],
    );
    await pane(page, "sheet").dispatchEvent("drop", { dataTransfer: transfer, clientX: 640, clientY: 120 });
  };
  await drop("notes.txt", "text/plain");
  await expect(said(page)).toContainText("A pane takes pictures");
  await drop("Halves.png", "image/png");
  const choice = page.getByRole("button", { name: "Swatch: Halves.png, 1 across" });
  await expect(choice).toBeVisible();
  await expect.poll(shot).not.toBe(still);
  await choice.click();
  await page.getByRole("button", { name: "Delete Halves.png from the library" }).click();
  await expect(page.getByRole("button", { name: "Swatch: Letters, 8 cells across" })).toBeVisible();
});

test("the graphics card may be lost: what was drawn is there again a moment later", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft:");
  await page.keyboard.press("4");
  await page.keyboard.press("Control+a");
  await expect(picked(page)).toHaveText(/shells$/);
  await page.mouse.move(2, 2);
  const shot = async () => (await pane(page, "form").screenshot()).toString("base64");
  await page.waitForTimeout(500);
  const before = await shot();
  const lose = (act: "loseContext" | "restoreContext") =>
    page.evaluate((name) => {
      const canvas = document.querySelector<HTMLCanvasElement>("canvas[data-stage]")!;
      const gl = canvas.getContext("webgl2")!;
      const kept = globalThis as unknown as { loser?: WEBGL_lose_context };
      kept.loser ??= gl.getExtension("WEBGL_lose_context")!;
      kept.loser[name]();
      return gl.isContextLost();
    }, act);
  await lose("loseContext");
  await expect.poll(shot).not.toBe(before);
  await lose("restoreContext");
  await expect.poll(shot).toBe(before);
  // And it answers as before.
  await page.keyboard.press("3");
  const middle = await at(page, "form", 0.5, 0.5);
  await page.mouse.click(middle.x, middle.y);
  await expect(picked(page)).toHaveText("1 face");
});

test("the lists go into a window of their own, work there, and come back when it is closed", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  const [own] = await Promise.all([
    page.waitForEvent("popup"),
    page.getByRole("button", { name: "Lists: into a window of its own" }).click(),
  ]);
  await expect(page.getByRole("complementary", { name: /Parts, shells/ })).toHaveCount(0);
  await own.getByText("Shells", { exact: true }).click();
  await own.getByText("Parts", { exact: true }).click();
  await own.getByRole("button", { name: "Drum", exact: true }).click();
  await expect(picked(page)).toContainText("edges");
  // Keys pressed there are the bench's, and it wears the theme of the page.
  await own.keyboard.press("4");
  await expect(page.getByRole("radio", { name: "Shells" }).last()).toBeChecked();
  // What is written into a field there is that field's alone.
  await own.getByText("Shells", { exact: true }).click();
  const filter = own.getByRole("textbox", { name: "Filter shells" });
  await filter.pressSequentially("2d4k");
  await expect(filter).toHaveValue("2d4k");
  await expect(page.getByRole("radio", { name: "Shells" }).last()).toBeChecked();
  await expect(page.getByRole("button", { name: "Undo" })).toBeDisabled();
  await page.getByRole("button", { name: "Dark theme" }).click();
  await expect(own.locator("html")).toHaveAttribute("data-mantine-color-scheme", "dark");
  await own.close();
  await expect(page.getByRole("complementary", { name: /Parts, shells/ })).toBeVisible();
});
