import { readFileSync } from "node:fs";
import { expect, type Page, test } from "@playwright/test";
import { zipSync } from "fflate";
import { PNG } from "pngjs";
import { brassBalance } from "../demo/models/brass-balance";
import { pepperMill } from "../demo/models/pepper-mill";
import { measure } from "../src/core/check/measure";
import { writeGlb } from "../src/core/formats/gltf/write";
import { writeObj } from "../src/core/formats/obj-write";
import { writePly } from "../src/core/formats/ply-write";
import { readAsset } from "../src/core/formats/read-asset";
import { readHistory, replay } from "../src/core/operations/history-file";
import {
  bringIn,
  card,
  doOn,
  dropFiles,
  drumObj,
  FAULTY,
  onBench,
  openNew,
  picked,
  said,
  showSide,
  stage,
} from "./table";

const text = (s: string) => new TextEncoder().encode(s);

/** A small picture of red cloth. */
function redCloth(): Uint8Array {
  const png = new PNG({ width: 8, height: 8 });
  for (let i = 0; i < 64; i++) png.data.set([190, 30, (i % 8) * 10, 255], 4 * i);
  return PNG.sync.write(png);
}

/** A square tile as STL text. */
const STL = `solid tile
facet normal 0 0 1
outer loop
vertex 0 0 0
vertex 9 0 0
vertex 9 9 0
endloop
endfacet
facet normal 0 0 1
outer loop
vertex 0 0 0
vertex 9 9 0
vertex 0 9 0
endloop
endfacet
endsolid tile
`;

const briefPage = (page: Page, name: string) =>
  page.getByRole("radiogroup", { name: "Page of the brief" }).getByText(name, { exact: true }).click();

test("every format is brought in: OBJ with its images in a zip, PLY, STL, GLB; several at once", async ({ page }) => {
  const obj = text(
    "mtllib cloth.mtl\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nusemtl Red\nf 1/1 2/2 3/3 4/4\n",
  );
  const mtl = text("newmtl Red\nKd 1 1 1\nmap_Kd img/red.png\n");
  const zip = zipSync({ "stall/cloth.obj": obj, "stall/cloth.mtl": mtl, "stall/img/red.png": redCloth() });
  await dropFiles(page, [{ name: "cloth.zip", bytes: zip }]);
  await expect(page.getByText("1 part, 1 face, a layout of 1 shell, stretch 1.000, 1 image.")).toBeVisible();
  await page.getByRole("button", { name: "Import" }).click();
  await onBench(page);
  await expect(stage(page, "Unfold")).toContainText("stretch 1.000");
  await dropFiles(page, [
    { name: "mill.ply", bytes: writePly(pepperMill()) },
    { name: "tile.stl", bytes: text(STL) },
    { name: "balance.glb", bytes: (await writeGlb(brassBalance())).bytes },
  ]);
  await expect(page.getByRole("dialog")).toContainText("Bring in 3 assets");
  await page.getByRole("button", { name: "Import all" }).click();
  await expect(page.getByText("3 assets brought in.")).toBeVisible();
  for (const name of ["mill", "tile", "balance"])
    await expect(page.getByRole("link", { name, exact: true }).last()).toBeVisible();
});

test("a large file goes through whole", async ({ page }) => {
  test.setTimeout(120_000);
  const n = 260;
  const rows: string[] = [];
  for (let j = 0; j <= n; j++) for (let i = 0; i <= n; i++) rows.push(`v ${i / n} ${(i * j) / 70000} ${j / n}`);
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i + 1;
      rows.push(`f ${a} ${a + 1} ${a + n + 2} ${a + n + 1}`);
    }
  await bringIn(page, "sail.obj", text(rows.join("\n")));
  await expect(stage(page, "Brief")).toContainText("67,600 faces");
});

test("the report names faults, picks them, and mends them", async ({ page }) => {
  await bringIn(page, "box.obj", text(FAULTY));
  await stage(page, "Brief").click();
  const report = card(page, "Report");
  await expect(report).toContainText("faults to look at");
  await report.getByRole("button", { name: "Doubled vertices", exact: true }).click();
  await expect(picked(page)).toHaveText("2 vertices");
  await page.keyboard.press("Escape");
  await doOn(page, "Show doubled vertices");
  await expect(said(page)).toContainText(
    "1 pair of vertices within 0 m. The nearest vertices beyond that without an edge between them are",
  );
  await page.keyboard.press("b"); // the selection before
  await expect(picked(page)).toHaveText("Nothing picked");
  await report.getByRole("button", { name: "Join doubled vertices" }).first().click();
  await expect(said(page)).toContainText("Join 1 pair of vertices");
  await report.getByRole("button", { name: "Remove stray vertices" }).click();
  await expect(said(page)).toContainText("Remove stray vertices on 1 part");
  await expect(report).toContainText("Fit for UV work");
  await page.keyboard.press("Control+z");
  await expect(report).toContainText("Stray vertices");
});

test("UV sets are added, chosen, copied and packed beside", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft:");
  await showSide(page, "UV sets");
  await page.getByRole("button", { name: "Add", exact: true }).click();
  await page.getByRole("textbox", { name: "Name" }).fill("Light");
  await page.keyboard.press("Enter");
  await expect(page.locator('input[aria-label="Target UV set"]')).toHaveValue("Light");
  await expect(stage(page, "Unfold")).toContainText("nothing unfolded");
  await page.locator('input[aria-label="Target UV set"]').click();
  await page.getByRole("option", { name: "UV 1" }).click();
  await expect(stage(page, "Unfold")).toContainText("stretch");
  await page.getByRole("button", { name: "More for set UV 1" }).click();
  await page.getByRole("menuitem", { name: "Copy picked faces to Light" }).click();
  await expect(said(page)).toContainText("Copy 146 faces from UV 1 to Light");
  await page.getByRole("button", { name: "New packed copy…" }).click();
  // Its options are asked for first.
  await page.getByRole("dialog").getByRole("textbox", { name: "Name" }).fill("Strips");
  await page.getByRole("dialog").getByRole("button", { name: "New packed copy" }).click();
  await expect(said(page)).toContainText("Packed set Strips:");
  await page.getByRole("button", { name: "Compare", exact: true }).click();
  await expect(page.getByRole("dialog").getByRole("table")).toHaveCount(3);
});

test("parts are named, grouped, locked with a reason, split off and united", async ({ page }) => {
  await openNew(page, "mill.obj", writeObj(pepperMill(), "mill").obj);
  const first = pepperMill().parts[0]!.name;
  await page.getByRole("button", { name: first, exact: true }).click();
  await page.getByRole("button", { name: `More for ${first}` }).click();
  await page.getByRole("menuitem", { name: "Rename…" }).click();
  await page.getByRole("textbox", { name: "Name" }).fill("Turned body");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("button", { name: "Turned body", exact: true })).toBeVisible();
  await page.getByRole("button", { name: "More for Turned body" }).click();
  await page.getByRole("menuitem", { name: "Lock…" }).click();
  await page.getByRole("textbox", { name: "Why" }).fill("painted already");
  await page.keyboard.press("Enter");
  await expect(said(page)).toContainText("Lock 1 part");
  await page.keyboard.press("u");
  await expect(said(page)).toContainText("Turned body is locked: painted already. Unlock it first.");
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  await expect(page.getByRole("button", { name: first, exact: true })).toBeVisible();
});

test("a layout is transferred to a changed file, and what changed is picked", async ({ page }) => {
  const text0 = drumObj().toString();
  await bringIn(page, "drum.obj", text(text0));
  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft:");
  await stage(page, "Brief").click();
  await briefPage(page, "Files");
  const chooser = page.waitForEvent("filechooser");
  await doOn(page, "Replace the mesh");
  // The newer file: one vertex has moved.
  const lines = text0.split("\n");
  const at = lines.findIndex((l) => l.startsWith("v "));
  lines[at] = "v 2.4 0 0";
  await (await chooser).setFiles({
    name: "drum_new.obj",
    mimeType: "text/plain",
    buffer: Buffer.from(lines.join("\n")),
  });
  await expect(said(page)).toContainText("Replace the mesh by drum_new.obj:");
  await expect(said(page)).toContainText("of another shape");
  await expect(picked(page)).toHaveText(/^\d+ faces$/);
  await expect(stage(page, "Unfold")).toContainText("stretch");
});

test("marks name a state, show it, and lead back to it", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await page.keyboard.press("k");
  await expect(said(page)).toContainText("Creased");
  await page.keyboard.press("m");
  await page.getByRole("textbox", { name: "Name" }).fill("Seams by creases");
  await page.getByRole("textbox", { name: "Note" }).fill("two rims, no side");
  await page.getByRole("button", { name: "Set the mark" }).last().click();
  await expect(said(page)).toContainText("Marked as Seams by creases");
  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft:");
  const drafted = (await stage(page, "Seams").textContent())!;
  await showSide(page, "History");
  await expect(page.getByText("two rims, no side")).toBeVisible();
  await page.getByRole("button", { name: /^Seams by creases/ }).click();
  await expect(said(page)).toContainText("Now at step 1");
  await expect(stage(page, "Unfold")).toContainText("nothing unfolded");
  await page.getByRole("checkbox", { name: "Compare Seams by creases" }).check();
  await page.getByRole("button", { name: "Compare with now" }).click();
  await expect(page.getByRole("dialog").getByRole("table")).toHaveCount(2);
  await page.getByRole("dialog").getByRole("button").first().click();
  await page
    .getByRole("list")
    .getByRole("button", { name: /^Draft:/ })
    .click();
  await expect(stage(page, "Seams")).toHaveText(drafted);

  // The steps as a file, done again on the file the asset came from, come to the same layout.
  const download = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save the steps" }).click();
  const history = readHistory(readFileSync(await (await download).path(), "utf8"), "drum history.json");
  expect(history.steps.map((s) => s.words)).toEqual([
    expect.stringContaining("Creased"),
    expect.stringMatching(/^Draft:/),
  ]);
  const again = await replay(
    await readAsset(drumObj(), { name: "drum.obj" }),
    history,
    [],
    { progress: () => {} },
    () => {},
  );
  const { shells, symmetricDirichlet } = measure(again);
  expect(drafted).toContain(`${shells} shells`);
  await expect(stage(page, "Unfold")).toContainText(`stretch ${symmetricDirichlet!.toFixed(3)}`);
});

test("a key is given to something else, shown there, and kept", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await page.keyboard.press("Shift+?");
  const table = page.getByRole("dialog", { name: "Keys" });
  await table.getByRole("button", { name: /^Key of Draft:/ }).click();
  await page.keyboard.press("c");
  await expect(table.getByRole("status")).toHaveText("C stands for Draft now, and no longer for Cut.");
  await table.getByRole("button", { name: "Done" }).click();
  await page.reload();
  await onBench(page);
  await expect(card(page, "Draft").getByRole("button", { name: /^Draft/ })).toContainText("C");
  await page.keyboard.press("c");
  await expect(said(page)).toContainText("Draft:");
});

test("an asset goes into a backup with its history, and comes back beside the other", async ({ page }) => {
  await openNew(page, "kept.obj", drumObj());
  await page.keyboard.press("k");
  await expect(said(page)).toContainText("Creased");
  await page.goto("/");
  await page.getByRole("button", { name: "More for kept" }).click();
  const download = page.waitForEvent("download");
  await page.getByRole("menuitem", { name: "Save with its history" }).click();
  const bytes = readFileSync(await (await download).path());
  await dropFiles(page, [{ name: "kept.tavlin", bytes }]);
  await expect(page.getByText("1 asset put back from the backup.")).toBeVisible();
  await page.getByRole("link", { name: "kept (restored)", exact: true }).click();
  await onBench(page);
  await page.keyboard.press("Control+z");
  await expect(said(page)).toContainText("Undone: Creased");
  await dropFiles(page, [{ name: "broken.tavlin", bytes: bytes.subarray(0, 300) }]);
  await expect(page.getByRole("alert").filter({ hasText: "backup" })).toBeVisible();
});

test("files are numbered when asked, and a layout goes out alone", async ({ page }) => {
  await openNew(page, "drum.obj", drumObj());
  await page.keyboard.press("d");
  await expect(said(page)).toContainText("Draft:");
  await stage(page, "Hand off").click();
  await page.getByRole("checkbox", { name: /^Number the files/ }).check();
  for (const name of ["drum_v001.layout.json", "drum_v002.layout.json"]) {
    const download = page.waitForEvent("download");
    await doOn(page, "Export the layout alone");
    expect((await download).suggestedFilename()).toBe(name);
    await expect(said(page)).toContainText(`Wrote ${name}`);
  }
});

test("the server answers to its own name and pages only", async ({ request, page }) => {
  expect((await request.get("/api/assets", { headers: { host: "market.example" } })).status()).toBe(421);
  const write = { data: "{}", headers: { origin: "http://market.example" } };
  expect((await request.post("/api/assets", write)).status()).toBe(403);
  const policy = (await request.get("/")).headers()["content-security-policy"];
  expect(policy).toContain("default-src 'self'");
  expect(policy).not.toContain(" 'unsafe-eval'");
  const broken: string[] = [];
  page.on("console", (m) => m.text().includes("Content Security Policy") && broken.push(m.text()));
  await openNew(page, "drum.obj", drumObj());
  expect(broken).toEqual([]);
});
