import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { basename } from "node:path";
import { brassBalance } from "../demo/models/brass-balance";
import { gingerRoot } from "../demo/models/ginger-root";
import { marketCart } from "../demo/models/market-cart";
import { paperLantern } from "../demo/models/paper-lantern";
import { pepperMill } from "../demo/models/pepper-mill";
import { measure } from "../src/core/check/measure";
import { writeObj } from "../src/core/formats/obj-write";
import { readAsset } from "../src/core/formats/read-asset";
import type { Asset } from "../src/core/layout/asset";
import { SEAMS_OR_SHEET } from "../src/core/layout/seam-wishes";
import { runEdit } from "../src/core/operations/run";
import { everything } from "../src/core/operations/scope";
import { seamFigures } from "../src/core/seams/seam-figures";
import { faceVisibility } from "../src/core/seams/visibility";

// What Draft makes of the night market, of a rabbit, and of files named on the command line, beside what it made at
// 00efb09: drafts-before.json holds figures taken from layouts of that state by this same measure. Lengths are over the
// root of the area. Layouts are measured as they are written to OBJ, every part by itself.

interface Row {
  readonly seam: number;
  readonly visible: number;
  readonly shells: number;
  readonly energy: number;
  readonly p99: number;
  readonly along: number;
  readonly turns: number;
  readonly filled: number;
  readonly flipped: number;
  readonly overlap: number;
}

const before = JSON.parse(readFileSync(new URL("./drafts-before.json", import.meta.url), "utf8")) as Record<
  string,
  Row
>;
const { positions, cells } = createRequire(import.meta.url)("bunny") as { positions: number[][]; cells: number[][] };
const rabbit = [
  ...positions.map((p) => `v ${p.join(" ")}`),
  ...cells.map((c) => `f ${c.map((i) => i + 1).join(" ")}`),
].join("\n");

const read = (name: string, bytes: Uint8Array) => readAsset(bytes, { name });
const MODELS: Record<string, () => Asset | Promise<Asset>> = {
  "Paper lantern": paperLantern,
  "Pepper mill": pepperMill,
  "Brass balance": brassBalance,
  "Market cart": marketCart,
  "Ginger root, 19,208 triangles": () => gingerRoot(0.16),
  "Ginger root": () => gingerRoot(),
  "A rabbit": () => read("rabbit.obj", new TextEncoder().encode(rabbit)),
};
for (const file of process.argv.slice(2)) MODELS[basename(file)] = () => read(basename(file), readFileSync(file));

async function rowOf(asset: Asset): Promise<Row> {
  const out = writeObj(asset, "draft");
  const plain = await readAsset(out.obj, { name: "draft.obj", beside: [{ name: out.mtlName, bytes: out.mtl }] });
  const seams = seamFigures(plain, plain.sets[0]!.id, faceVisibility(plain));
  const m = measure(plain);
  const root = Math.sqrt(seams.area);
  return {
    seam: seams.length / root,
    visible: seams.visible / root,
    shells: m.shells!,
    energy: m.symmetricDirichlet!,
    p99: m.symmetricDirichletP99!,
    along: seams.along,
    turns: seams.turns,
    filled: m.coverage!,
    flipped: m.flippedTriangles!,
    overlap: m.overlapShareUnstacked!,
  };
}

const words = (r: Row) =>
  [
    `seam ${r.seam.toFixed(2)}`,
    `visible ${r.visible.toFixed(2)}`,
    `${r.shells} shells`,
    `stretch ${r.energy.toFixed(4)}`,
    `P99 ${r.p99.toFixed(2)}`,
    `along the flow ${(100 * r.along).toFixed(0)} %`,
    `${r.turns} turns`,
    `filled ${(100 * r.filled).toFixed(0)} %`,
    ...(r.flipped ? [`${r.flipped} flipped`] : []),
    ...(r.overlap > 0 ? [`overlap ${r.overlap.toFixed(4)}`] : []),
  ].join(", ");

const ratios: Array<readonly [number, number]> = [];
for (const [name, make] of Object.entries(MODELS)) {
  const read = await make();
  const context = { progress: () => {} };
  const whole = await runEdit(read, "join-doubled", {}, everything(read), context).then(
    (done) => done.asset,
    () => read,
  );
  const old = before[name];
  process.stdout.write(`${name}\n  before         ${old ? words(old) : "not recorded"}\n`);
  const choices = [
    ...SEAMS_OR_SHEET.map((fill) => ({ name: fill, options: { fill } })),
    // Stretched no more than it was then.
    ...(old ? [{ name: "same stretch", options: { mean: old.energy } }] : []),
  ];
  for (const { name: choice, options } of choices) {
    const began = performance.now();
    const { asset } = await runEdit(whole, "draft", options, everything(whole), context);
    const seconds = (performance.now() - began) / 1000;
    const row = await rowOf(asset);
    process.stdout.write(`  ${choice.padEnd(13)}  ${words(row)}, ${seconds.toFixed(1)} s\n`);
    if (old && choice === "balanced") ratios.push([row.seam / old.seam, row.visible / old.visible]);
  }
}
const mean = (k: 0 | 1) => ratios.reduce((sum, r) => sum + r[k], 0) / ratios.length;
process.stdout.write(`Seams x ${mean(0).toFixed(2)}, seen ones x ${mean(1).toFixed(2)} on average, balanced\n`);
