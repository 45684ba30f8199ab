import { readFileSync } from "node:fs";
import { brassBalance } from "../demo/models/brass-balance";
import { marketCart } from "../demo/models/market-cart";
import { pepperMill } from "../demo/models/pepper-mill";
import { measure } from "../src/core/check/measure";
import { readAsset } from "../src/core/formats/read-asset";
import { runEdit } from "../src/core/operations/run";
import { everything } from "../src/core/operations/scope";
import { seamFigures } from "../src/core/seams/seam-figures";
import { HalvesFinder } from "../src/core/seams/mirrored-halves";
import { faceVisibility } from "../src/core/seams/visibility";
const made: any = { balance: brassBalance, cart: marketCart, mill: pepperMill };
const of = HalvesFinder.prototype.of;
for (const n of process.argv.slice(2)) for (const mirrored of [false, true]) {
  let asset: any = made[n] ? made[n]() : await readAsset(new Uint8Array(readFileSync(n)), { name: n.split("/").pop()! });
  try { asset = (await runEdit(asset, "join-doubled", {}, everything(asset), { progress() {} })).asset; } catch {}
  let found = 0;
  HalvesFinder.prototype.of = mirrored ? function (this: any, ...a: any) { const r = (of as any).apply(this, a); if (r) found++; return r; } : () => null;
  const t = performance.now();
  const done = (await runEdit(asset, "draft", {}, everything(asset), { progress() {} })).asset;
  const s = (performance.now() - t) / 1000;
  const f = seamFigures(done, done.sets[0]!.id, faceVisibility(done)); const m = measure(done); const root = Math.sqrt(f.area);
  console.log(`${n.split("/").pop()} ${mirrored ? `mirrored ${found}` : "free"} seam ${(f.length / root).toFixed(2)} (${(f.visible / root).toFixed(2)}) shells ${m.shells} E ${m.symmetricDirichlet!.toFixed(4)} P99 ${m.symmetricDirichletP99!.toFixed(3)} filled ${m.coverage!.toFixed(3)} flips ${m.flippedTriangles} over ${m.overlapShareUnstacked} ${s.toFixed(1)} s`);
}
