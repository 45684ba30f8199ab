import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

export default defineConfig({
  resolve: { alias: { "@": fileURLToPath(new URL("./src", import.meta.url)) } },
  test: {
    include: ["src/**/*.test.ts", "demo/**/*.test.ts", "bench/**/*.test.ts"],
    globalSetup: "src/testing/global-setup.ts",
    testTimeout: 60_000,
    hookTimeout: 60_000,
    // By itself one core would be left idle: files would run one after another on a machine of two.
    maxWorkers: 2,
    // Files share the two processes: loading the program anew for each was a third of their time. What is kept beside
    // the modules is put back before each file, and they pass in any order (vitest run --sequence.shuffle.files).
    isolate: false,
    setupFiles: "src/testing/set-up.ts",
    unstubGlobals: true,
    unstubEnvs: true,
    // The database is compiled as it is used, and only what runs for seconds, as packing does, compiled anew to run faster:
    // the processes of the tests do not live for long.
    execArgv: ["--wasm-lazy-compilation", "--wasm-tiering-budget=150000000"],
  },
});
