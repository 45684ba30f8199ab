import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gingerRoot } from "../demo/models/ginger-root";
import { encodeAsset } from "../src/core/formats/asset-bundle";
import { encodeDelta } from "../src/core/formats/delta-bundle";
import { withLayouts } from "../src/core/layout/asset";
import { deltaBetween } from "../src/core/layout/delta";
import { withPoints } from "../src/core/layout/layout";
import { runEdit } from "../src/core/operations/run";
import { everything } from "../src/core/operations/scope";
import { createAsset, loadAsset } from "../src/server/assets";
import { openDatabase } from "../src/server/database";
import { appendRevision, stepHistory } from "../src/server/revisions";
import { layoutAt, shapeAt } from "../src/testing/assets";
import { timed } from "./growth-table";

// Saving one edit on the largest asset of the night market, against storing it whole, in time and in bytes.

const quiet = { progress: () => {} };
const folder = mkdtempSync(join(tmpdir(), "tavlin-bench-"));
const db = await openDatabase(folder);
const bytes = async () =>
  (await db.query<{ n: number }>("select coalesce(sum(length(bytes)), 0)::int as n from chunks")).rows[0]!.n;

const bare = gingerRoot();
const cut = (await runEdit(bare, "open-up", {}, everything(bare), quiet)).asset;
const root = (await runEdit(cut, "unfold", { passes: 0 }, everything(cut), quiet)).asset;
const [id, whole] = await timed(() => createAsset(db, root));
const wholeBytes = await bytes();
const { asset } = await loadAsset(db, id);
const set = layoutAt(asset, 0, 0);
console.log(
  `Ginger root, ${shapeAt(asset, 0).mesh.faceStart.length - 1} faces: whole ${encodeAsset(asset).length} bytes over the wire, ${wholeBytes} stored, ${whole.toFixed(0)} ms`,
);
let base = 0;
let from = asset;
/** Moves points to the right, from one to another. */
const moved = (uv: Float64Array, start: number, end: number): void => {
  for (let i = 2 * start; i < 2 * end; i += 2) uv[i]! += 0.01;
};
const edits: Array<[string, (uv: Float64Array) => void]> = [
  ["one point moved", (uv) => moved(uv, uv.length >> 2, (uv.length >> 2) + 1)],
  ["a hundred neighbours moved", (uv) => moved(uv, uv.length >> 2, (uv.length >> 2) + 100)],
  ["every point moved", (uv) => moved(uv, 0, uv.length >> 1)],
];
for (const [name, change] of edits) {
  const uv = layoutAt(from, 0, 0).uv.slice();
  change(uv);
  const next = withLayouts(from, [{ shape: shapeAt(from).id, set: from.sets[0]!.id, layout: withPoints(set, uv) }]);
  const delta = deltaBetween(from, next);
  const before = await bytes();
  const edit = { base, key: name, operation: "move", options: {}, scope: null, words: name, figures: null, delta };
  const [, ms] = await timed(() => appendRevision(db, id, edit));
  const stored = (await bytes()) - before;
  console.log(
    `${name}: ${encodeDelta(delta, {}, {}, from).length} bytes over the wire, ${stored} stored (x ${(stored / wholeBytes).toFixed(4)}), ${ms.toFixed(0)} ms (x ${(ms / whole).toFixed(3)})`,
  );
  base++;
  from = next;
}
const [, undo] = await timed(() => stepHistory(db, id, base, "undo"));
console.log(`undo: ${undo.toFixed(0)} ms (x ${(undo / whole).toFixed(3)})`);
await db.close();
rmSync(folder, { recursive: true, force: true });
process.exit(0);
