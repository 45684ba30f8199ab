// Compiles the kernels to WebAssembly, with SIMD and without, into one module of text, which every way of loading a program
// knows: binary.ts. Run by ./tavlin and by the scripts of package.json; does nothing where that is newer than its sources.
import { execFile } from "node:child_process";
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { promisify } from "node:util";

const here = dirname(fileURLToPath(import.meta.url));
const assembly = join(here, "assembly");
const out = join(here, "binary.ts");
const sources = [...readdirSync(assembly).map((f) => join(assembly, f)), fileURLToPath(import.meta.url)];

async function compiled(file, feature) {
  const asc = join(dirname(createRequire(import.meta.url).resolve("assemblyscript/package.json")), "bin", "asc.js");
  const how = ["-O3", "--runtime", "stub", "--noAssert", ...feature, "-o", file];
  await promisify(execFile)(process.execPath, [asc, join(assembly, "index.ts"), ...how]);
  return readFileSync(file).toString("base64");
}

if (!existsSync(out) || statSync(out).mtimeMs < Math.max(...sources.map((f) => statSync(f).mtimeMs))) {
  const folder = mkdtempSync(join(tmpdir(), "tavlin-kernels-"));
  try {
    const [withSimd, plain] = await Promise.all([
      compiled(join(folder, "simd.wasm"), ["--enable", "simd"]),
      compiled(join(folder, "plain.wasm"), ["--disable", "simd"]),
    ]);
    const text = `// Made by build.mjs of what is in assembly/.\nexport const WITH_SIMD = "${withSimd}";\nexport const PLAIN = "${plain}";\n`;
    writeFileSync(out, text);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
