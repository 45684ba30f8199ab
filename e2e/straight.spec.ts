import { expect, test } from "@playwright/test";
import {
  at,
  bentBarObj,
  card,
  clothObj,
  drumObj,
  onBench,
  openCard,
  openNew,
  pane,
  picked,
  said,
  showSide,
  stage,
} from "./table";

test("a projection is seen before it is done, is turned by its handle and by numbers, and never stops picking", async ({
  page,
}) => {
  await openNew(page, "drum.obj", drumObj());
  await stage(page, "Unfold").click();
  await openCard(page, "Project");
  const own = card(page, "Project");
  const tried = own.getByTestId("tried");
  await expect(tried).toHaveCount(0);

  // Everything: what it would be taken for is told, and drawn into both panes.
  await pane(page, "form").hover();
  await page.keyboard.press("Control+a");
  await expect(tried).toContainText(/^Project \d+ faces as /);
  await expect(page.getByRole("img", { name: "How the shells would come to lie" })).toBeVisible();
  await own.getByRole("combobox", { name: "Project as" }).click();
  await page.getByRole("option", { name: "cylinder", exact: true }).click();
  await expect(tried).toContainText("as cylinder: 3 shells");
  const before = await tried.textContent();

  // By the keys of the handle, which are the numbers of the card.
  const axis = page.getByRole("slider", { name: /^Axis of the projection/ });
  for (let i = 0; i < 4; i++) await axis.press("ArrowRight");
  await own.getByRole("button", { name: /more option/ }).click();
  await expect(own.getByRole("textbox", { name: "Turn x" })).toHaveValue("20 °");
  await expect(tried).not.toContainText(before!);
  await own.getByRole("textbox", { name: "Turn x" }).fill("10/2-5");
  await own.getByRole("textbox", { name: "Turn x" }).blur();
  await expect(tried).toContainText(before!);

  // By hand: it follows, and falls back upright onto the axis of the world.
  const knob = (await axis.boundingBox())!;
  const [x, y] = [knob.x + knob.width / 2, knob.y + knob.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 50, y + 20, { steps: 4 });
  await expect(tried).not.toContainText(before!);
  await page.mouse.move(x, y, { steps: 4 });
  await page.mouse.up();
  await expect(tried).toContainText(before!);

  // A click beside the handle picks as ever.
  await page.keyboard.press("Escape");
  await expect(tried).toHaveCount(0);
  const place = await at(page, "form", 0.45, 0.7);
  await page.mouse.click(place.x, place.y);
  await expect(picked(page)).toContainText("1 ");
  await page.keyboard.press("Control+a");
  await expect(tried).toContainText(before!);

  await page.keyboard.press("Alt+p");
  await expect(said(page)).toContainText("as cylinder: 3 shells");
  await expect(stage(page, "Seams")).toContainText("3 shells");
  await expect(tried).toHaveCount(0);
  await page.reload();
  await onBench(page);
  await expect(stage(page, "Seams")).toContainText("3 shells");
  await page.keyboard.press("Control+z");
  await expect(stage(page, "Seams")).not.toContainText("3 shells");
});

test("a bent cloth is straightened to a rectangle, its lines drawn before", async ({ page }) => {
  await openNew(page, "cloth.obj", clothObj(8));
  await page.keyboard.press("u");
  await expect(said(page)).toContainText("Unfold 1 shell");
  await stage(page, "Unfold").click();
  await openCard(page, "Straighten: Rectangles");
  await showSide(page, "Shells");
  await page.getByRole("listbox", { name: "Shells" }).getByRole("option").first().click();
  await expect(picked(page)).toContainText("1 shell");
  await expect(card(page, "Straighten: Rectangles").getByTestId("tried")).toContainText(/Straighten 1 shell: stretch/);
  await pane(page, "sheet").hover();
  await page.keyboard.press("Alt+r");
  await expect(said(page)).toContainText(/Straighten 1 shell: stretch 1\.\d+ to 1\.\d+/);
  await expect(stage(page, "Check")).not.toContainText("flip");
  await page.keyboard.press("Control+z");
  await expect(said(page)).toContainText("Undone");
});

test("a bent tube of triangles is unrolled along its bend, and its ends are squared", async ({ page }) => {
  await openNew(page, "bar.obj", bentBarObj());
  await stage(page, "Unfold").click();
  await openCard(page, "Project");
  await pane(page, "form").hover();
  await page.keyboard.press("Control+a");
  await expect(card(page, "Project").getByTestId("tried")).toContainText(/as bent tube: 1 shell, stretch 1\.0/);
  // The ways stand beside each other, drawn.
  await expect(page.getByRole("list", { name: "Ways to project" }).locator("path")).not.toHaveCount(0);
  await page.keyboard.press("Alt+p");
  await expect(said(page)).toContainText(/as bent tube: 1 shell/);

  await pane(page, "sheet").hover();
  await page.keyboard.press("f");
  const frame = page.getByRole("img", { name: "Handles of the picked shells" }).locator("rect").first();
  let before = 0;
  await expect(async () => {
    const { x, width, height } = (await frame.boundingBox())!;
    const now = x + width + height;
    const isStill = now === before;
    before = now;
    expect(isStill).toBe(true);
  }).toPass();
  const { x, y, width, height } = (await frame.boundingBox())!;
  const [x0, y0, x1, y1] = [x, y, x + width, y + height];
  // The end edges alone lie whole within a box about one side.
  await page.keyboard.press("2");
  const isTall = y1 - y0 > x1 - x0;
  const end = isTall
    ? { x0: x0 - 6, y0: y0 - 6, x1: x1 + 6, y1: y0 + 8 }
    : { x0: x0 - 6, y0: y0 - 6, x1: x0 + 8, y1: y1 + 6 };
  await page.mouse.move(end.x0, end.y0);
  await page.mouse.down();
  await page.mouse.move(end.x1, end.y1, { steps: 4 });
  await page.mouse.up();
  await expect(picked(page)).toContainText("8 edges");
  const own = await openCard(page, "Square ends");
  await expect(own.getByTestId("tried")).toContainText(/Square ends of 1 shell: stretch/);
  await own
    .getByRole("button", { name: /^Square ends/ })
    .last()
    .click();
  await expect(said(page)).toContainText(/Square ends of 1 shell: stretch/);
});
