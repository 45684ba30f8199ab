import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium, type Page } from "@playwright/test";
import type { Asset } from "../src/core/layout/asset";
import { createAsset } from "../src/server/assets";
import { openDatabase } from "../src/server/database";

const PORT = 4567;

/** Does something with a page before which an asset lies open, on a server of its own. Needs a build (npx next build). */
export async function withOpened(asset: Asset, act: (page: Page, address: string) => Promise<void>): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "tavlin-bench-"));
  const db = await openDatabase(join(folder, "data"));
  const id = await createAsset(db, asset);
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
    await act(page, `http://127.0.0.1:${PORT}/bench/${id}`);
  } finally {
    await browser.close();
    if (server.exitCode === null) process.kill(-server.pid!);
    rmSync(folder, { recursive: true, force: true });
  }
}
