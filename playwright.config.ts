import { defineConfig } from "@playwright/test";

/**
 * Features of the browser that are left off. Each window makes the list below its address bar ready, as two web pages that
 * no test shows: half a second of a processor a test. The list replaces Playwright's, so what of that matters here is named again.
 */
const LEFT_OFF = [
  "WebUIOmniboxPopup",
  "WebUIOmniboxAimPopup",
  "AimEnabled",
  "AvoidUnnecessaryBeforeUnloadCheckSync",
  "DestroyProfileOnBrowserClose",
  "HttpsUpgrades",
  "HttpsFirstBalancedModeAutoEnable",
  "MediaRouter",
  "NetworkTimeServiceQuerying",
  "OptimizationHints",
  "PaintHolding",
  "PreconnectToSearch",
  "ThirdPartyStoragePartitioning",
];

const port = Number(process.env.TAVLIN_TEST_PORT ?? 4399);

export default defineConfig({
  testDir: "e2e",
  outputDir: "test-results/browser",
  fullyParallel: true,
  workers: 2,
  retries: 0,
  // No test is of time: machines that are shared may be slow for minutes, and what never comes is told late at worst.
  timeout: 150_000,
  expect: { timeout: 45_000 },
  reporter: [["list"], ["json", { outputFile: "test-results/browser.json" }]],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    // Places stay the same; what is drawn without a graphics card has a quarter of the pixels.
    deviceScaleFactor: 0.5,
    acceptDownloads: true,
    launchOptions: {
      executablePath: "/usr/bin/chromium",
      args: [
        "--no-sandbox",
        "--use-gl=angle",
        "--use-angle=swiftshader",
        "--enable-unsafe-swiftshader",
        // Pages are put together without the emulated graphics card, which has enough to do with the panes.
        "--disable-gpu-compositing",
        "--ignore-gpu-blocklist",
        "--disable-background-networking",
        `--disable-features=${LEFT_OFF.join(",")}`,
      ],
    },
  },
  webServer: {
    // The unit tests have made an empty database; without it the server makes its own, which takes seconds.
    command: `rm -rf test-results/data && (cp -r test-results/empty-database test-results/data 2>/dev/null || true) && TAVLIN_DATA=test-results/data npx --no-install next start -H 127.0.0.1 -p ${port}`,
    url: `http://127.0.0.1:${port}`,
    timeout: 60_000,
    reuseExistingServer: false,
  },
});
