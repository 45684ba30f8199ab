import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

export default defineConfig({
  resolve: { alias: { "@": fileURLToPath(new URL("./src", import.meta.url)) } },
  test: {
    include: ["src/**/*.test.ts", "demo/**/*.test.ts"],
    globalSetup: "src/testing/global-setup.ts",
    testTimeout: 60_000,
    // By itself one core would be left idle: files would run one after another on a machine of two.
    maxWorkers: 2,
    // The database is compiled as it is used: the processes of the tests do not live for long.
    execArgv: ["--liftoff-only", "--wasm-lazy-compilation"],
  },
});
