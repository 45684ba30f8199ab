import { expect, type Locator, type Page } from "@playwright/test";
import { assemble, lathe } from "../demo/kit";
import { encodeAsset } from "../src/core/formats/asset-bundle";
import { writeObj } from "../src/core/formats/obj-write";
import { readAsset } from "../src/core/formats/read-asset";

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

/** A cloth of n x n quads with folds in it, without coordinates. */
export function clothObj(n: number): Buffer {
  const rows: string[] = [];
  for (let j = 0; j <= n; j++)
    for (let i = 0; i <= n; i++) rows.push(`v ${i / 10} ${j / 10} ${Math.sin(i / 6) * Math.cos(j / 7)}`);
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i + 1;
      rows.push(`f ${a} ${a + 1} ${a + n + 2} ${a + n + 1}`);
    }
  return Buffer.from(rows.join("\n"));
}

/** A bent bar of triangles, round and open at both ends, without coordinates. */
export function bentBarObj(): Buffer {
  const [about, along] = [8, 12];
  const rows: string[] = [];
  for (let j = 0; j <= along; j++)
    for (let i = 0; i < about; i++) {
      const [turn, bend] = [(2 * Math.PI * i) / about, (Math.PI * j) / along / 2];
      const out = 5 - Math.cos(turn);
      rows.push(`v ${out * Math.cos(bend)} ${Math.sin(turn)} ${out * Math.sin(bend)}`);
    }
  for (let j = 0; j < along; j++)
    for (let i = 0; i < about; i++) {
      const [a, b] = [j * about + i + 1, j * about + ((i + 1) % about) + 1];
      rows.push(`f ${a} ${b} ${b + about}`, `f ${a} ${b + about} ${a + about}`);
    }
  return Buffer.from(rows.join("\n"));
}

/** Drops files on Home as a person would, and waits for what they hold to be told. */
export async function dropFiles(page: Page, files: ReadonlyArray<{ name: string; bytes: Uint8Array }>): Promise<void> {
  await page.goto("/");
  const transfer = await page.evaluateHandle(
    (list) => {
      const all = new DataTransfer();
      for (const [name, data] of list)
        all.items.add(new File([Uint8Array.from(atob(data!), (c) => c.charCodeAt(0))], name!));
      return all;
    },
    files.map((f) => [f.name, Buffer.from(f.bytes).toString("base64")]),
  );
  // The page listens only once it has come to life.
  await page.waitForLoadState("networkidle");
  await page.locator("body").dispatchEvent("dragenter", { dataTransfer: transfer });
  await page.getByText("Drop the mesh here").dispatchEvent("drop", { dataTransfer: transfer });
}

/** Brings in an asset: drops its file, answers the unit, and waits for the bench. */
export async function bringIn(page: Page, name: string, bytes: Uint8Array): Promise<void> {
  await dropFiles(page, [{ name, bytes }]);
  const answer = page.getByRole("button", { name: "Import" });
  await expect(answer).toBeVisible({ timeout: 30_000 });
  await answer.press("Enter");
  await onBench(page);
}

/** Puts an asset on the server and opens it: what Home does with files has tests of its own, and takes its time. */
export async function openNew(page: Page, name: string, bytes: Uint8Array): Promise<void> {
  const data = Buffer.from(encodeAsset(await readAsset(bytes, { name })));
  const answer = await page.request.post("/api/assets", { data });
  const { id } = (await answer.json()) as { id: string };
  await page.goto(`/bench/${id}`);
  await onBench(page);
}

/** Shows a page of the left column. */
export const showSide = (page: Page, name: "Parts" | "Shells" | "UV sets" | "History"): Promise<void> =>
  page.getByRole("radiogroup", { name: "What the column shows" }).getByText(name, { exact: true }).click();

/** A box of twelve triangles with a doubled corner and a stray vertex, as OBJ. */
export const FAULTY = `# from the stall
v 0 0 0
v 1 0 0
v 1 1 0
v 0 1 0
v 0 0 1
v 1 0 1
v 1 1 1
v 0 1 1
v 0 0 0
v 5 5 5
f 4 3 2 1
f 5 6 7 8
f 9 2 6 5
f 2 3 7 6
f 3 4 8 7
f 4 1 5 8
`;

/** Waits until the bench is laid out, drawn and measured. */
export async function onBench(page: Page): Promise<void> {
  await page.waitForURL(/\/bench\//);
  await expect(page.locator('canvas[data-stage="drawn"]')).toHaveCount(1);
  await expect(stage(page, "Seams")).toContainText("shell");
}

export const stage = (page: Page, name: string): Locator =>
  page.getByRole("navigation", { name: "Stages" }).getByRole("button", { name: new RegExp(`^${name}`) });

export const pane = (page: Page, name: "form" | "sheet"): Locator =>
  page.locator(`section[data-pane="${name}"] [role="application"]`);

export const picked = (page: Page): Locator => page.getByTestId("picked");

/** How many are picked, once any are: picking is done behind the click. */
export async function pickedCount(page: Page): Promise<number> {
  await expect(picked(page)).toHaveText(/^\d/);
  return Number.parseInt((await picked(page).textContent())!, 10);
}

export const card = (page: Page, title: string): Locator => page.getByRole("region", { name: title, exact: true });

const shortTitle = (title: string): string => title.replace(/^[^:]+: /, "");

/** Opens the row of an operation, where it is closed, and answers its card. */
export async function openCard(page: Page, title: string): Promise<Locator> {
  const closed = page.getByRole("button", { name: shortTitle(title), exact: true, expanded: false });
  await expect(closed.or(card(page, title))).toBeVisible();
  if (await closed.isVisible()) await closed.click();
  return card(page, title);
}

/** Does an operation by the button of its card. */
export async function doOn(page: Page, title: string): Promise<void> {
  const own = await openCard(page, title);
  const words = shortTitle(title);
  await own.getByRole("button", { name: new RegExp(`^${words}( |…|$)`) }).click();
}

export const said = (page: Page): Locator => page.locator("footer").getByRole("status");

/** A point of a pane, as shares of its width and height. */
export async function at(page: Page, name: "form" | "sheet", x: number, y: number): Promise<{ x: number; y: number }> {
  const box = (await pane(page, name).boundingBox())!;
  return { x: box.x + x * box.width, y: box.y + y * box.height };
}
