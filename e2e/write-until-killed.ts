import { assemble, lathe } from "../demo/kit";
import { withPoints } from "../src/core/layout/layout";
import { createAsset, listAssets, loadAsset } from "../src/server/assets";
import { openDatabase } from "../src/server/database";
import { appendRevision } from "../src/server/revisions";

// Writes revisions into every folder named for ever, telling of each when the database has it; the test kills this
// process in the midst. Started again on the same folders it tells what it found, and goes on from there.
const profile: Array<[number, number]> = Array.from({ length: 12 }, (_, i) => [1, i]);
const drum = () => assemble("Drum", "cm", [], [{ name: "Drum", shape: lathe(profile, 24) }]);

const folders = process.argv.slice(2);
let waiting = folders.length;
let allOpened = () => {};
const everyFolder = new Promise<void>((resolve) => {
  allOpened = resolve;
});
/** Goes on when every folder is open. */
function opened(): Promise<void> {
  if (--waiting === 0) allOpened();
  return everyFolder;
}

async function write(folder: string, place: number): Promise<void> {
  const db = await openDatabase(folder);
  await opened();
  const id = (await listAssets(db))[0]?.id ?? (await createAsset(db, drum()));
  const { asset, history } = await loadAsset(db, id);
  const old = asset.shapes.get("p1")!.layouts.get("s1")!;
  process.stdout.write(`found ${place} ${history.version} ${old.uv[0]}\n`);
  for (let n = history.version + 1; ; n++) {
    const layout = withPoints(
      old,
      old.uv.map((x, i) => (i === 0 ? n : x)),
    );
    await appendRevision(db, id, {
      base: n - 1,
      key: `${process.pid}-${n}`,
      operation: "move",
      options: {},
      scope: null,
      words: `Edit ${n}`,
      figures: null,
      delta: { parts: [], shapes: [], layouts: [{ shape: "p1", set: "s1", layout }] },
    });
    process.stdout.write(`saved ${place} ${n}\n`);
    // The database answers without ever waiting for anything: the writers of the other folders have their turn here.
    await new Promise((resolve) => setImmediate(resolve));
  }
}
await Promise.all(folders.map(write));
