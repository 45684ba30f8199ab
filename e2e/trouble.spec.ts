import { expect, test } from "@playwright/test";
import { at, clothObj, drumObj, onBench, openCard, openNew, picked, said, showSide, stage } from "./table";

test("a file that cannot be read is refused in one sentence and leaves nothing behind", async ({ page }) => {
  await page.goto("/");
  const input = page.locator('input[type="file"]').last();
  await input.setInputFiles({
    name: "bad.obj",
    mimeType: "text/plain",
    buffer: Buffer.from("v 0 0 0\nv 1 0 0\nf 1 2 9\n"),
  });
  await expect(page.getByRole("alert").filter({ hasText: "Line 3" })).toContainText("names vertex 9 of 2");
  await input.setInputFiles({ name: "notes.txt", mimeType: "text/plain", buffer: Buffer.from("hello") });
  await expect(page.getByRole("alert").filter({ hasText: "notes.txt" })).toContainText("cannot be opened");
  await page.reload();
  // By its name: other tests bring their own assets in meanwhile.
  await expect(page.getByRole("button", { name: "Bring in a mesh" })).toBeVisible();
  await expect(page.getByRole("link", { name: /Open (bad|notes)/ })).toHaveCount(0);
});

test("a drag that ends nowhere leaves nothing over the page", async ({ page }) => {
  await page.goto("/");
  await page.waitForLoadState("networkidle");
  const transfer = await page.evaluateHandle(() => {
    const all = new DataTransfer();
    all.items.add(new File(["x"], "x.obj"));
    return all;
  });
  await page.locator("body").dispatchEvent("dragenter", { dataTransfer: transfer });
  await expect(page.getByText("Drop the mesh here")).toBeVisible();
  await page.mouse.move(300, 200);
  await page.getByRole("button", { name: "Backup" }).click();
  await expect(page.getByRole("menuitem").first()).toBeVisible();
});

test("two tabs never overwrite each other silently", async ({ page, context }) => {
  await openNew(page, "drum.obj", drumObj());
  const other = await context.newPage();
  await other.goto(page.url());
  await onBench(other);
  await page.keyboard.press("k");
  await expect(said(page)).toContainText("Creased");
  await other.bringToFront();
  await other.keyboard.press("d");
  await expect(other.getByRole("alert").filter({ hasText: "changed elsewhere" })).toBeVisible();
  await other.getByRole("button", { name: "Take the newest" }).click();
  await expect(stage(other, "Seams")).toHaveText((await stage(page, "Seams").textContent())!);
  await other.keyboard.press("d");
  await expect(said(other)).toContainText("Draft:");
});

test("refusals say what to do, and change nothing", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await page.keyboard.press("l");
  await expect(said(page)).toContainText("unfold or unpin them first");
  await page.keyboard.press("u");
  await expect(said(page)).toContainText("is closed");
  await expect((await openCard(page, "Cut")).getByRole("button", { name: /^Cut/ })).toBeDisabled();
  await page.keyboard.press("Control+z");
  await expect(said(page)).toContainText("nothing to undo");
});

test("everything is reached by name, and parts are hidden and isolated", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await page.keyboard.press("Control+k");
  await page.getByRole("textbox", { name: "Find an action" }).fill("pick faces");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("dialog")).toHaveCount(0);
  const spot = await at(page, "form", 0.5, 0.55);
  await page.mouse.click(spot.x, spot.y);
  await expect(picked(page)).toHaveText("1 face");
  await page.getByRole("button", { name: "Isolate Drum" }).hover();
  await page.getByRole("button", { name: "Hide Drum" }).click();
  await expect(picked(page)).toHaveText("Nothing picked");
  await page.mouse.click(spot.x, spot.y);
  await expect(picked(page)).toHaveText("Nothing picked");
  await page.getByRole("button", { name: "Show Drum" }).click();
  await page.keyboard.press("Control+a");
  await expect(picked(page)).toHaveText("146 faces");
});

test("long work is stopped at once and leaves the document as it was", async ({ page }) => {
  await openNew(page, "cloth.obj", clothObj(120));
  // An edit before it is still on its way to the database: Stop means the later work, and must not lose it.
  let letGo: () => void = () => {};
  const held = new Promise<void>((resolve) => {
    letGo = resolve;
  });
  await page.route("**/revisions", async (route) => {
    await held;
    await route.continue();
  });
  const middle = await at(page, "form", 0.5, 0.5);
  await page.mouse.click(middle.x, middle.y);
  await expect(picked(page)).toHaveText("1 edge");
  await page.keyboard.press("c");
  await expect(said(page)).toContainText("Cut");
  await page.keyboard.press("Escape");
  await page.keyboard.press("d");
  await page.getByRole("button", { name: "Stop" }).press("Enter");
  await expect(said(page)).toContainText("nothing has changed");
  await expect(stage(page, "Unfold")).toContainText("nothing unfolded");
  letGo();
  await expect(page.getByTestId("unsaved")).toHaveCount(0);
  await page.keyboard.press("Control+z");
  await expect(said(page)).toContainText("Undone: Cut");
  await page.keyboard.press("Control+z");
  await expect(said(page)).toContainText("nothing to undo");
});

test("relaxing keeps what it came to when it is stopped", async ({ page }) => {
  await openNew(page, "cloth.obj", clothObj(150));
  // Angles alone leave stretch that relaxing lessens.
  await stage(page, "Unfold").click();
  const unfolding = await openCard(page, "Unfold");
  const passes = unfolding.getByRole("textbox", { name: "Passes" });
  await passes.fill("0");
  await passes.press("Enter");
  const uneven = /stretch 1\.(0[5-9]|[1-9])/;
  await expect(stage(page, "Unfold")).toContainText(uneven);
  const before = (await stage(page, "Unfold").textContent())!;
  const relaxing = await openCard(page, "Relax");
  await relaxing.getByRole("textbox", { name: "Passes" }).fill("1000");
  await relaxing.getByRole("textbox", { name: "Passes" }).press("Enter");
  await expect(page.locator("footer")).toContainText(/Relax([5-9]|[1-9]\d) %/);
  await page.getByRole("button", { name: "Stop" }).press("Enter");
  await expect(said(page)).toHaveText("Relax 1 of 1 shell, stopped early");
  await expect(stage(page, "Unfold")).not.toHaveText(before);
  await page.keyboard.press("Control+z");
  await expect(stage(page, "Unfold")).toHaveText(before);
});

test("an asset is renamed, and deleted after a question", async ({ page }) => {
  await openNew(page, "kettle.obj", drumObj());
  await page.goto("/");
  await page.getByRole("button", { name: "More for kettle" }).first().click();
  await page.getByRole("menuitem", { name: "Rename" }).click();
  await page.getByRole("textbox", { name: "New name" }).fill("Tall drum");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("link", { name: "Tall drum", exact: true })).toBeVisible();
  await expect(page.getByRole("menuitem")).toHaveCount(0);
  await page.getByRole("button", { name: "More for Tall drum" }).click();
  await page.getByRole("menuitem", { name: "Delete" }).click();
  await page.getByRole("button", { name: "Delete" }).click();
  await expect(page.getByRole("link", { name: "Tall drum", exact: true })).toHaveCount(0);
});

test("keys reach the bench from a switch, and after the palette was left", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await showSide(page, "History");
  await page.keyboard.press("Control+k");
  await expect(page.getByRole("textbox", { name: "Find an action" })).toBeFocused();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await page.keyboard.press("Control+a");
  await expect(picked(page)).toHaveText(/edges$/);
  await page.keyboard.press("3");
  await expect(picked(page)).toHaveText("146 faces");
});

test("an edit is on the table at once, is sent again until the server answers, and is kept once", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  const id = page.url().split("/").pop()!;
  let tries = 0;
  // The first answer is lost on its way back, the second request on its way there: the server has seen the edit once.
  await page.route("**/revisions", async (route) => {
    tries++;
    if (tries === 1) await route.fetch();
    if (tries <= 2) await route.abort();
    else await route.continue();
  });
  await page.keyboard.press("k");
  await expect(said(page)).toContainText("Creased");
  await expect(stage(page, "Seams")).toContainText("3 shells");
  await expect(page.getByTestId("unsaved")).toContainText("not saved");
  // The next edit does not wait for the save of the one before.
  await page.keyboard.press("o");
  await expect(said(page)).toContainText("Open up");
  await expect(page.getByTestId("unsaved")).toHaveCount(0);
  expect(tries).toBeGreaterThan(2);
  const { steps } = (await (await page.request.get(`/api/assets/${id}/history`)).json()) as { steps: unknown[] };
  expect(steps).toHaveLength(3);
  await page.keyboard.press("Control+z");
  await expect(said(page)).toContainText("Undone: Open up");
  await page.keyboard.press("Control+z");
  await expect(said(page)).toContainText("Undone: Creased");
  await expect(stage(page, "Seams")).toContainText("1 shell");
});

test("an edit that the server refuses is taken back with its reason, and those on it", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  let held: () => void = () => {};
  const letGo = new Promise<void>((resolve) => {
    held = resolve;
  });
  await page.route("**/revisions", async (route) => {
    await letGo;
    await route.fulfill({ status: 507, json: { error: "The disk is full." } });
  });
  await page.keyboard.press("k");
  await expect(stage(page, "Seams")).toContainText("3 shells");
  await page.keyboard.press("o");
  await expect(said(page)).toContainText("Open up");
  held();
  await expect(said(page)).toContainText("2 steps could not be saved and were taken back: The disk is full.");
  await expect(stage(page, "Seams")).toContainText("1 shell");
  await expect(page.getByTestId("unsaved")).toHaveCount(0);
});
