import type { Page } from "@playwright/test";
import { type Asset, shapesOf } from "../src/core/layout/asset";
import { layoutFromCorners } from "../src/core/layout/layout";
import { newAsset } from "../src/core/layout/new-asset";
import type { PolyMesh } from "../src/core/mesh/poly-mesh";
import { withOpened } from "./browser";
import { assetOf, clothMesh } from "./cloth";
import { printGrowth, trianglesOfSide } from "./growth-table";

// What the page's own thread is busy with, in a browser: the longest task while an asset is opened, and what pointing,
// picking and lists take. This browser has no graphics card and draws on the same two cores, so that a page which waits
// for it waits long: what is opened is measured with drawing and with its calls left out. Needs a build (npx next build).

const SIDES = (process.env.TAVLIN_BENCH_SIDES ?? "70,224,707").split(",").map(Number);

/** A mesh laid out as it lies. */
function laid(mesh: PolyMesh): Asset {
  const uv = new Float64Array(2 * mesh.cornerVertex.length);
  mesh.cornerVertex.forEach((v, c) => {
    uv[2 * c] = mesh.positions[3 * v]!;
    uv[2 * c + 1] = mesh.positions[3 * v + 1]!;
  });
  return assetOf(mesh, layoutFromCorners(mesh, uv));
}

/** Keeps the length of every task that held the page's thread for 50 ms and more. */
async function watch(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const tasks: number[] = [];
    Object.assign(globalThis, { longTasks: tasks });
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) tasks.push(entry.duration);
    }).observe({ type: "longtask", buffered: true });
  });
}

/** Leaves out what the graphics card would do, for the pages opened from now on. */
async function drawNothing(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const calls = WebGL2RenderingContext.prototype;
    calls.drawArrays = () => {};
    calls.drawElements = () => {};
    calls.drawArraysInstanced = () => {};
    calls.drawElementsInstanced = () => {};
  });
}

const longest = (page: Page): Promise<number> =>
  page.evaluate(() => {
    const tasks = (globalThis as unknown as { longTasks: number[] }).longTasks;
    return Math.max(0, ...tasks.splice(0));
  });

/** Keeps how long every call for a frame of the screen takes, in the pages opened from now on. */
async function watchFrames(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const frames: number[] = [];
    Object.assign(globalThis, { frameTimes: frames });
    const ask = window.requestAnimationFrame.bind(window);
    window.requestAnimationFrame = (act) =>
      ask((time) => {
        const began = performance.now();
        act(time);
        frames.push(performance.now() - began);
      });
  });
}

/** Every swatch in turn, by the arrow keys in its list: the longest that the page is at work for a frame by it. */
async function changeSwatches(page: Page): Promise<number> {
  const frames = () => page.evaluate(() => (globalThis as unknown as { frameTimes: number[] }).frameTimes.splice(0));
  await page.mouse.move(400, 400);
  await page.keyboard.press("Shift+V");
  await page.getByRole("button", { name: /^Swatch: / }).click();
  await page.getByRole("radio", { name: "Letters" }).focus();
  await page.waitForTimeout(1500);
  await frames();
  for (let k = 0; k < 9; k++) {
    await page.keyboard.press("ArrowDown");
    await page.waitForTimeout(250);
  }
  return Math.max(...(await frames()));
}

async function ready(page: Page, address: string): Promise<void> {
  await page.goto(address);
  await page
    .getByText(/stretch \d/)
    .first()
    .waitFor();
}

async function line(side: number): Promise<Record<string, number>> {
  let out: Record<string, number> = {};
  await withOpened(laid(clothMesh(side, 3)), async (page, address) => {
    await watch(page);
    await ready(page, address);
    const opening = await longest(page);
    await page.keyboard.press("3");
    await page.waitForTimeout(2000);
    // Moves of the pointer within the page: what they run, and not what the browser draws for them.
    const pointing = await page.evaluate(async () => {
      const ground = document.querySelector('[data-pane="sheet"] [role="application"]')!;
      const r = ground.getBoundingClientRect();
      const times: number[] = [];
      for (let k = 0; k < 20; k++) {
        const [clientX, clientY] = [r.left + r.width * (0.4 + 0.004 * k), r.top + r.height * 0.55];
        ground.dispatchEvent(new PointerEvent("pointermove", { clientX, clientY, bubbles: true, pointerId: 1 }));
        const began = performance.now();
        // The pane's own callback comes first, this one after it.
        await new Promise((resolve) => requestAnimationFrame(resolve));
        times.push(performance.now() - began);
      }
      return times.sort((a, b) => a - b)[10]!;
    });
    await page.waitForTimeout(500);
    const spot = (await page.locator('[data-pane="sheet"] [role="application"]').boundingBox())!;
    await longest(page);
    for (let k = 0; k < 5; k++) {
      await page.mouse.click(spot.x + spot.width * (0.4 + 0.02 * k), spot.y + spot.height * 0.55);
      await page.waitForTimeout(300);
    }
    const picks = await longest(page);
    await drawNothing(page);
    await watchFrames(page);
    await ready(page, address);
    const undrawn = await longest(page);
    out = {
      "longest task while it is opened, ms": opening,
      "the same without drawing, ms": undrawn,
      "another swatch, the longest frame by it, ms": await changeSwatches(page),
      "a move of the pointer until the next frame, ms": pointing,
      "longest task of five picks, ms": picks,
    };
  });
  return out;
}

const columns: Array<Record<string, number>> = [];
for (const side of SIDES) columns.push(await line(side));
printGrowth(SIDES.map(trianglesOfSide), columns, 1);

// The list of parts, where there are two thousand.
const many = newAsset(
  { id: "many", name: "many", source: { name: "many.made", format: "made" } },
  Array.from({ length: 2000 }, (_, i) => {
    const { mesh, layouts } = shapesOf(laid(clothMesh(3, 4)))[0]!;
    const transform = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, (i % 50) * 1.2, Math.floor(i / 50) * 1.2, 0, 1];
    return { id: `p${i}`, name: `Cloth ${i}`, mesh, transform, layouts: [[...layouts.values()][0]!] };
  }),
);
await withOpened(many, async (page, address) => {
  await watch(page);
  await drawNothing(page);
  await ready(page, address);
  console.log(`2,000 parts, longest task while they are opened: ${(await longest(page)).toFixed(0)} ms`);
  await page.waitForTimeout(2000);
  const acts: ReadonlyArray<[string, () => Promise<unknown>]> = [
    ["picking one", () => page.getByText("Cloth 4", { exact: true }).click()],
    ["hiding one", () => page.getByLabel("Hide Cloth 5", { exact: true }).click()],
    ["isolating one", () => page.getByLabel("Isolate Cloth 6", { exact: true }).click()],
    ["searching", () => page.getByLabel("Search parts, materials").fill("Cloth 19")],
  ];
  for (const [words, act] of acts) {
    await longest(page);
    await act();
    await page.waitForTimeout(800);
    console.log(`  ${words}: ${(await longest(page)).toFixed(0)} ms (0 means under 50)`);
  }
});
process.exit(0);
