import { expect, type Locator, type Page } from "@playwright/test";
import { assemble, lathe } from "../demo/kit";
import { writeObj } from "../src/core/formats/obj-write";

/** A plain drum: 24 quads round, 6 high, closed by two n-gons, without coordinates. */
export function drumObj(): Buffer {
  const profile = Array.from({ length: 7 }, (_, i): [number, number] => [2, i]);
  const asset = assemble(
    "Drum",
    "cm",
    [{ name: "Clay", color: [0.5, 0.3, 0.2] }],
    [{ name: "Drum", shape: lathe(profile, 24) }],
  );
  return Buffer.from(writeObj(asset, "drum").obj);
}

/** Drops a file on Home as a person would, answers the unit, and waits for the bench. */
export async function bringIn(page: Page, name: string, bytes: Buffer): Promise<void> {
  await page.goto("/");
  const transfer = await page.evaluateHandle(
    ([file, data]) => {
      const list = new DataTransfer();
      list.items.add(new File([Uint8Array.from(atob(data!), (c) => c.charCodeAt(0))], file!));
      return list;
    },
    [name, bytes.toString("base64")] as const,
  );
  const answer = page.getByRole("button", { name: "Put it on the table" });
  // The page listens only once it has come to life.
  await page.waitForLoadState("networkidle");
  await page.locator("body").dispatchEvent("dragenter", { dataTransfer: transfer });
  await page.getByText("Drop the mesh here").dispatchEvent("drop", { dataTransfer: transfer });
  await expect(answer).toBeVisible();
  await answer.press("Enter");
  await onBench(page);
}

/** Waits until the bench is laid out and measured. */
export async function onBench(page: Page): Promise<void> {
  await page.waitForURL(/\/bench\//);
  await expect(page.locator("canvas")).toHaveCount(2);
  await expect(stage(page, "Seams")).toContainText("shell");
}

export const stage = (page: Page, name: string): Locator =>
  page.getByRole("navigation", { name: "Stages" }).getByRole("button", { name: new RegExp(`^${name}`) });

export const pane = (page: Page, name: "form" | "sheet"): Locator =>
  page.locator(`section[data-pane="${name}"] [role="application"]`);

export const picked = (page: Page): Locator => page.getByTestId("picked");

export const card = (page: Page, title: string): Locator => page.getByRole("region", { name: title, exact: true });

export const said = (page: Page): Locator => page.locator("footer").getByRole("status");

/** A point of a pane, as shares of its width and height. */
export async function at(page: Page, name: "form" | "sheet", x: number, y: number): Promise<{ x: number; y: number }> {
  const box = (await pane(page, name).boundingBox())!;
  return { x: box.x + x * box.width, y: box.y + y * box.height };
}
