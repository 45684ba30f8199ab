import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { encodeAsset } from "../src/core/formats/asset-bundle";
import { readObj } from "../src/core/formats/obj-read";
import { writeObj } from "../src/core/formats/obj-write";
import { layoutFromCorners } from "../src/core/layout/layout";
import { encodeArrays } from "../src/server/array-stream";
import { listAssets, receiveAsset, stateOf } from "../src/server/assets";
import { openDatabase } from "../src/server/database";
import { documentThreads } from "../src/server/document-thread";
import { hashesOf, manifestOf } from "../src/wire/manifest";
import { assetOf, clothMesh } from "./cloth";
import { printGrowth, timed, trianglesOfSide } from "./growth-table";

// Bringing an OBJ file in: read and packed by the page, then stored by the server, which has other requests to answer
// meanwhile. At three sizes in one run, with the memory of this process and its threads, which are page and server at once.

const SIDES = [70, 224, 707];
const folder = mkdtempSync(join(tmpdir(), "tavlin-bench-"));
const db = await openDatabase(folder, documentThreads());

/** The file of a cloth of n x n squares in triangles, laid out as it lies. */
function file(n: number): Uint8Array {
  const mesh = clothMesh(n, 3);
  const uv = new Float64Array(2 * mesh.cornerVertex.length);
  mesh.cornerVertex.forEach((v, c) => {
    uv[2 * c] = mesh.positions[3 * v]!;
    uv[2 * c + 1] = mesh.positions[3 * v + 1]!;
  });
  return writeObj(assetOf(mesh, layoutFromCorners(mesh, uv)), "cloth").obj;
}

/** The longest that a small request had to wait while something else was done. */
async function longestWait<T>(act: () => Promise<T>): Promise<[T, number]> {
  let done = false;
  let longest = 0;
  const others = (async () => {
    while (!done) {
      const due = performance.now() + 20;
      await new Promise((resolve) => setTimeout(resolve, 20));
      await listAssets(db);
      longest = Math.max(longest, performance.now() - due);
    }
  })();
  const value = await act();
  done = true;
  await others;
  return [value, longest];
}

async function line(n: number): Promise<Record<string, number>> {
  const bytes = file(n);
  const [asset, reading] = await timed(() => readObj(bytes, { name: "cloth.obj" }));
  const [bundle, packing] = await timed(() => encodeAsset(asset));
  const [[id, waiting], storing] = await timed(() => longestWait(() => receiveAsset(db, bundle)));
  const [, opening] = await timed(async () => {
    const { manifest } = await stateOf(db, id);
    const stream = await encodeArrays(db, hashesOf(manifestOf(manifest)));
    for (const reader = stream.getReader(); !(await reader.read()).done; );
  });
  return {
    "read by the page, ms": reading,
    "packed by the page, ms": packing,
    "stored by the server, ms": storing,
    "longest wait of others, ms": waiting,
    "sent again by the server, ms": opening,
    "memory of all, at the most, MB": process.resourceUsage().maxRSS / 1024,
  };
}

await line(SIDES[0]!); // compiling is not what is measured
const columns: Array<Record<string, number>> = [];
for (const n of SIDES) columns.push(await line(n));
printGrowth(SIDES.map(trianglesOfSide), columns, 0);
await db.close();
rmSync(folder, { recursive: true, force: true });
process.exit(0);
