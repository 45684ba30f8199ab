import { GLTFLoader } from "three/examples/jsm/loaders/GLTFLoader.js";
import { OBJLoader } from "three/examples/jsm/loaders/OBJLoader.js";
import { PLYLoader } from "three/examples/jsm/loaders/PLYLoader.js";
import { STLLoader } from "three/examples/jsm/loaders/STLLoader.js";
import { mergeVertices } from "three/examples/jsm/utils/BufferGeometryUtils.js";
import { readGltf } from "../src/core/formats/gltf/read";
import { writeGlb } from "../src/core/formats/gltf/write";
import { readObj } from "../src/core/formats/obj-read";
import { writeObj } from "../src/core/formats/obj-write";
import { readPly } from "../src/core/formats/ply-read";
import { writePly } from "../src/core/formats/ply-write";
import { readStl } from "../src/core/formats/stl-read";
import type { Asset } from "../src/core/layout/asset";
import { layoutFromCorners } from "../src/core/layout/layout";
import { assetOf, clothMesh, meshOf } from "./cloth";

// Reading a whole asset (connectivity, seams, shells and all) beside what three's loaders make of the same bytes (arrays
// to draw). Each is run by turns; the least time of each counts, and their ratio.

Object.assign(globalThis, { self: globalThis });

/** The cloth in triangles, laid out as it lies. */
function cloth(n: number): Asset {
  const mesh = clothMesh(n, 3);
  const cornerUv = new Float64Array(2 * mesh.cornerVertex.length);
  mesh.cornerVertex.forEach((v, c) => {
    cornerUv[2 * c] = mesh.positions[3 * v]!;
    cornerUv[2 * c + 1] = mesh.positions[3 * v + 1]!;
  });
  return assetOf(mesh, layoutFromCorners(mesh, cornerUv));
}

function stl(asset: Asset): Uint8Array {
  const mesh = meshOf(asset);
  const count = mesh.faceStart.length - 1;
  const view = new DataView(new ArrayBuffer(84 + 50 * count));
  view.setUint32(80, count, true);
  mesh.cornerVertex.forEach((v, c) => {
    for (let d = 0; d < 3; d++)
      view.setFloat32(84 + 50 * Math.floor(c / 3) + 12 + 12 * (c % 3) + 4 * d, mesh.positions[3 * v + d]!, true);
  });
  return new Uint8Array(view.buffer);
}

const exact = (b: Uint8Array): ArrayBuffer => b.slice().buffer as ArrayBuffer;

async function main(): Promise<void> {
  const side = Number(process.env.TAVLIN_BENCH_SIDE ?? 354);
  const asset = cloth(side);
  const files = {
    obj: writeObj(asset, "cloth").obj,
    ply: writePly(asset),
    stl: stl(asset),
    glb: (await writeGlb(asset)).bytes,
  };
  const pairs: Record<string, [() => unknown, () => unknown]> = {
    OBJ: [
      () => readObj(files.obj, { name: "a.obj" }),
      () => new OBJLoader().parse(new TextDecoder().decode(files.obj)),
    ],
    PLY: [() => readPly(files.ply, { name: "a.ply" }), () => new PLYLoader().parse(exact(files.ply))],
    STL: [() => readStl(files.stl, { name: "a.stl" }), () => new STLLoader().parse(exact(files.stl))],
    "STL, corners joined by both": [
      () => readStl(files.stl, { name: "a.stl" }),
      () => mergeVertices(new STLLoader().parse(exact(files.stl)).deleteAttribute("normal")),
    ],
    GLB: [() => readGltf(files.glb, { name: "a.glb" }), () => new GLTFLoader().parseAsync(exact(files.glb), "")],
  };
  console.log(`Reading ${2 * side * side} triangles: Tavlin, three's loader, ratio`);
  for (const [name, [own, theirs]] of Object.entries(pairs)) {
    const least = [Infinity, Infinity];
    for (let round = 0; round < 5; round++)
      for (const [i, act] of [own, theirs].entries()) {
        const start = performance.now();
        await act();
        least[i] = Math.min(least[i]!, performance.now() - start);
      }
    console.log(
      `${name}  ${least[0]!.toFixed(0)} ms  ${least[1]!.toFixed(0)} ms  x ${(least[0]! / least[1]!).toFixed(2)}`,
    );
  }
}

await main();
