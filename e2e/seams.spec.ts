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

test("what cuts would come to is told before; shells are grafted onto their mates and seams shortened, by keys", async ({
  page,
}) => {
  await openNew(page, "drum.obj", drumObj());
  await openCard(page, "Cut");
  const foretold = card(page, "Cut").getByTestId("foretold");
  await expect(foretold).toHaveCount(0);

  // The loop under the pointer: a ring about the drum, or a line along it.
  const middle = await at(page, "form", 0.5, 0.5);
  await page.mouse.dblclick(middle.x, middle.y);
  await expect(picked(page)).toContainText("edge");
  await expect(foretold).toContainText(/^Would make \d shells? (of 1|as before): /);
  const words = (await foretold.textContent())!;
  const shells = Number(/make (\d)/.exec(words)![1]);
  await page.keyboard.press("c");
  await expect(stage(page, "Seams")).toContainText(`${shells} shell`);

  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft: 3 shells");

  // A cap onto the wall: picked in the table of shells, grafted by its key, hinged where it touches.
  await showSide(page, "Shells");
  await page.getByRole("button", { name: "Sort by area" }).click();
  await page.getByRole("listbox", { name: "Shells" }).getByRole("option").last().click();
  await expect(picked(page)).toContainText("1 shell");
  await pane(page, "sheet").hover();
  await page.keyboard.press("Shift+G");
  await expect(said(page)).toContainText("Graft 1 shell");
  await expect(stage(page, "Seams")).toContainText("2 shells");
  await expect(stage(page, "Check")).not.toContainText("flip");

  await page.keyboard.press("Control+z");
  await expect(stage(page, "Seams")).toContainText("3 shells");
  await page.keyboard.press("Escape");
  await doOn(page, "Assemble");
  await expect(said(page)).toContainText("Assemble 3 shells to 1");
  await expect(stage(page, "Seams")).toContainText("1 shell");
  await page.reload();
  await onBench(page);
  await expect(stage(page, "Seams")).toContainText("1 shell");
});

test("the thread cuts as it goes, shells unfold after each cut, and locked seams stay through a draft", async ({
  page,
}) => {
  await openNew(page, "drum.obj", drumObj());
  const [a, b, beside] = [
    await at(page, "form", 0.5, 0.3),
    await at(page, "form", 0.5, 0.75),
    await at(page, "form", 0.4, 0.75),
  ];
  await page.keyboard.press("y");
  await page.getByRole("switch", { name: "Cut as it goes" }).check();
  await page.mouse.click(a.x, a.y);
  await page.mouse.click(b.x, b.y);
  await expect(said(page)).toContainText(/^Cut [1-9]\d* edges?$/);
  await page.mouse.click(beside.x, beside.y);
  await expect(page.getByRole("status")).not.toContainText("The thread is picked");
  await page.keyboard.press("Escape");
  await page.keyboard.press("Escape");

  // What was cut is locked, and a draft that would do without it keeps it.
  await doOn(page, "Pick: Seams");
  const seams = await pickedCount(page);
  await openCard(page, "Lock seams");
  await card(page, "Lock seams").getByLabel("Reason").fill("along the handle");
  await doOn(page, "Lock seams");
  await expect(said(page)).toContainText(`Lock ${seams} seam edges: along the handle`);
  await page.keyboard.press("j");
  await expect(said(page)).toContainText("These seams are locked (along the handle); unlock them first.");
  await page.keyboard.press("Escape");
  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft:");
  await doOn(page, "Pick: Locked seams");
  await expect(picked(page)).toHaveText(`${seams} edges`);
  await doOn(page, "Unlock seams");
  await expect(said(page)).toContainText(`Unlock ${seams} seam edges`);
});

test("styles are compared before anything is cut; a proposal is changed by hand, then taken", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await page.getByRole("button", { name: "Compare all" }).click();
  const table = page.getByRole("region", { name: "Compare proposals" });
  await table.getByRole("button", { name: "Compare", exact: true }).click();
  const turned = table.getByRole("row", { name: /^Turned/ });
  await expect(turned).toBeVisible();
  await expect(table.getByRole("row", { name: /^Dome/ })).toBeVisible();
  await expect(stage(page, "Seams")).toContainText("1 shell");

  await turned.focus();
  await page.keyboard.press("Enter");
  await table.getByRole("button", { name: "Pick its edges" }).click();
  const all = await pickedCount(page);
  expect(all).toBeGreaterThan(3);
  await pane(page, "form").hover();
  await page.keyboard.press("c");
  await expect(said(page)).toContainText(`Cut ${all} edges`);
  await expect(table).toContainText("compare again");
  await page.keyboard.press("Control+z");
  await expect(stage(page, "Seams")).toContainText("1 shell");

  await table.getByRole("button", { name: "Compare again" }).click();
  await expect(table).toContainText("Point at a style");
  await expect(turned).toHaveAttribute("aria-selected", "true");
  await table.getByRole("button", { name: "Take it" }).click();
  await expect(said(page)).toContainText("Turned:");
  await expect(stage(page, "Seams")).toContainText("3 shells");
});

test("joins are proposed one by one: taken, skipped, stepped back from and kept open, by keys", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft: 3 shells");
  await openCard(page, "Assemble");
  const steps = card(page, "Assemble").getByRole("group", { name: "One by one" });
  await expect(steps.getByRole("button", { name: "Skip" })).toBeDisabled();
  await pane(page, "form").hover();
  await page.keyboard.press("Alt+j");
  await expect(said(page)).toContainText(/^Shells \d and \d of .+ once they are joined\.$/);
  const first = (await said(page).textContent())!;
  await expect(picked(page)).toHaveText("1 edge");
  await expect(page.getByRole("img", { name: "Mates of the picked seams: 1 pair" })).toBeVisible();
  await page.keyboard.press("Alt+k");
  await expect(said(page)).not.toHaveText(first);
  await expect(stage(page, "Seams")).toContainText("3 shells");

  await steps.getByRole("button", { name: "Join it" }).click();
  await expect(stage(page, "Seams")).toContainText("2 shells");
  await page.keyboard.press("Control+z");
  await expect(stage(page, "Seams")).toContainText("3 shells");
  await page.keyboard.press("Alt+j");
  await expect(picked(page)).toHaveText("1 edge");
  await steps.getByRole("button", { name: "Keep open" }).click();
  await doOn(page, "Pick: Locked seams");
  await expect(picked(page)).toHaveText("1 edge");
});
