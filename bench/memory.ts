import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium } from "@playwright/test";
import { layoutFromCorners } from "../src/core/layout/layout";
import { createAsset } from "../src/server/assets";
import { openDatabase } from "../src/server/database";
import { assetOf, clothMesh } from "./cloth";

// Memory of the page and its workers with a million triangles on the table, as the browser measures it, and how long it
// takes until they are there with their figures. Needs a build (npx next build).

const SIDE = Number(process.env.TAVLIN_BENCH_SIDE ?? 707);
const PORT = 4567;

const folder = mkdtempSync(join(tmpdir(), "tavlin-memory-"));
const mesh = clothMesh(SIDE, 3);
const uv = new Float64Array(2 * mesh.cornerVertex.length);
mesh.cornerVertex.forEach((v, c) => {
  uv[2 * c] = mesh.positions[3 * v]!;
  uv[2 * c + 1] = mesh.positions[3 * v + 1]!;
});
const db = await openDatabase(join(folder, "data"));
const id = await createAsset(db, assetOf(mesh, layoutFromCorners(mesh, uv)));
await db.close();
rmSync(join(folder, "data", "lock"), { force: true });

const server = spawn("npx", ["--no-install", "next", "start", "-H", "127.0.0.1", "-p", String(PORT)], {
  env: { ...process.env, TAVLIN_DATA: join(folder, "data") },
  stdio: "ignore",
  detached: true,
});
const browser = await chromium.launch({
  executablePath: "/usr/bin/chromium",
  args: ["--no-sandbox", "--use-gl=angle", "--use-angle=swiftshader", "--enable-unsafe-swiftshader"],
});
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  page.setDefaultTimeout(300_000);
  for (let tries = 0; tries < 60; tries++) {
    if (await page.goto(`http://127.0.0.1:${PORT}`).catch(() => null)) break;
    await page.waitForTimeout(500);
  }
  const start = performance.now();
  await page.goto(`http://127.0.0.1:${PORT}/bench/${id}`);
  await page
    .getByText(/stretch \d/)
    .first()
    .waitFor();
  const seconds = (performance.now() - start) / 1000;
  const measured = await page.evaluate(async () => {
    type Measured = { bytes: number; breakdown: Array<{ bytes: number; types: string[] }> };
    const measure = (performance as unknown as { measureUserAgentSpecificMemory(): Promise<Measured> })
      .measureUserAgentSpecificMemory;
    return measure.call(performance);
  });
  const mb = (n: number) => `${Math.round(n / 1024 ** 2)} MB`;
  console.log(`${2 * SIDE * SIDE} triangles: on the table with figures after ${seconds.toFixed(1)} s`);
  console.log(`page and workers together ${mb(measured.bytes)}`);
  for (const part of measured.breakdown.filter((b) => b.bytes > 1024 ** 2))
    console.log(`  ${mb(part.bytes)} ${part.types.join(", ")}`);
} finally {
  await browser.close();
  if (server.exitCode === null) process.kill(-server.pid!);
  rmSync(folder, { recursive: true, force: true });
}
process.exit(0);
