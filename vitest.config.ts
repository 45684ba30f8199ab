import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

export default defineConfig({
  resolve: { alias: { "@": fileURLToPath(new URL("./src", import.meta.url)) } },
  test: {
    testTimeout: 60_000,
    // By itself one core would be left idle: files would run one after another on a machine of two.
    maxWorkers: 2,
    // The database is compiled as it is used: the processes of the tests do not live for long.
    execArgv: ["--liftoff-only", "--wasm-lazy-compilation"],
    projects: [
      // The core keeps no state, so that its test files may share a process: a third of their time is loading it.
      {
        extends: true,
        test: { name: "core", include: ["src/core/**/*.test.ts", "demo/**/*.test.ts"], isolate: false },
      },
      {
        extends: true,
        test: {
          name: "around it",
          include: ["src/**/*.test.ts"],
          exclude: ["src/core/**"],
          globalSetup: "src/testing/global-setup.ts",
        },
      },
    ],
  },
});
