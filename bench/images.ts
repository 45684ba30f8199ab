import { nodePool } from "../src/compute/node-pool";
import { encodePng } from "../src/core/images/pixels";
import { type Asset, fileKey } from "../src/core/layout/asset";
import { layoutFromCorners } from "../src/core/layout/layout";
import { meshFromPolygons } from "../src/core/mesh/poly-mesh";
import { runEdit } from "../src/core/operations/run";
import { everything } from "../src/core/operations/scope";
import { codecs, reading } from "../src/testing/painted";
import { assetOf } from "./cloth";
import { timed } from "./growth-table";

// Milliseconds of moving painted images with their shells: one image of 1,024 and of 4,096 texels a side under a thousand
// shells that are turned and moved, read and written as PNG; and two such images side by side.

const pool = nodePool(2);
const context = { ...reading, pool: pool.runner(undefined) };

/** Patches of 4 by 4 quads in rows, each a shell. */
function patches(a: number): Asset {
  const [points, faces, uv]: [number[], number[][], number[]] = [[], [], []];
  for (let k = 0; k < a * a; k++) {
    const first = points.length / 3;
    for (let i = 0; i < 25; i++) points.push(10 * k + (i % 5), Math.floor(i / 5), 0);
    for (let q = 0; q < 16; q++) {
      const at = first + 5 * Math.floor(q / 4) + (q % 4);
      faces.push([at, at + 1, at + 6, at + 5]);
      for (const v of faces.at(-1)!)
        uv.push(
          ((k % a) + 0.1 + 0.2 * ((v - first) % 5)) / a,
          (Math.floor(k / a) + 0.1 + 0.2 * Math.floor((v - first) / 5)) / a,
        );
    }
  }
  const mesh = meshFromPolygons(Float64Array.from(points), faces);
  return assetOf(mesh, layoutFromCorners(mesh, Float64Array.from(uv)));
}

/** Brush strokes and some noise, as painted images are. */
async function image(side: number, seed: number): Promise<Uint8Array> {
  const data = new Uint8Array(4 * side * side);
  let noise = seed;
  for (let i = 0; i < side * side; i++) {
    noise = (Math.imul(noise, 1103515245) + 12345) >>> 0;
    const [x, y] = [i % side, Math.floor(i / side)];
    data[4 * i] = ((255 * x) / side) * 0.9 + ((noise >>> 20) & 7);
    data[4 * i + 1] = 128 + 60 * Math.sin(x / 50) * Math.cos(y / 70) + ((noise >>> 23) & 7);
    data[4 * i + 2] = (255 * y) / side;
    data[4 * i + 3] = 255;
  }
  return encodePng({ width: side, height: side, data }, await codecs());
}

async function moved(side: number, count: number): Promise<number> {
  const plain = patches(32);
  const files: Record<string, Uint8Array> = {};
  for (let k = 0; k < count; k++) {
    const bytes = await image(side, 1 + k);
    files[fileKey(bytes)] = bytes;
  }
  const keys = Object.keys(files);
  const laid = (image: string) => ({ image, set: "s1" });
  const maps = keys.slice(1).map((key) => ({ ...laid(key), channel: "normal" as const }));
  const shapes = new Map(
    [...plain.shapes].map(([id, s]) => [
      id,
      { ...s, mesh: { ...s.mesh, faceMaterial: s.mesh.faceMaterial.map(() => 0) } },
    ]),
  );
  const asset: Asset = {
    ...plain,
    shapes,
    materials: [{ name: "Paint", color: [1, 1, 1], texture: laid(keys[0]!), maps }],
    images: keys.map((key) => ({ key, name: key, type: "image/png" })),
    files,
  };
  const options = { turn: 90, about: "each its own middle", scale: 0.95, images: true };
  return (await timed(() => runEdit(asset, "move", options, everything(asset), context)))[1];
}

await moved(256, 2);
const rows = [
  ["one image of 1,024, 1,024 shells", await moved(1024, 1)],
  ["one image of 4,096, 1,024 shells", await moved(4096, 1)],
  ["two images of 4,096, side by side", await moved(4096, 2)],
] as const;
process.stdout.write(`${rows.map(([what, ms]) => `${what.padEnd(40)} ${ms.toFixed(0).padStart(7)} ms`).join("\n")}\n`);
pool.dispose();
