import { openDatabase } from "../src/server/database";
import { countedEdits } from "../src/testing/counted-edits";

// Writes revisions into every folder named for ever, telling of each when the database has it; the test kills this
// process in the midst. Started again on the same folders it tells what it found, and goes on from there.

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
  const edits = await countedEdits(db);
  process.stdout.write(`found ${place} ${edits.version} ${edits.point}\n`);
  for (let n = edits.version + 1; ; n++) {
    await edits.save(n);
    process.stdout.write(`saved ${place} ${n}\n`);
    // The database answers without ever waiting for anything: the writers of the other folders have their turn here.
    await new Promise((resolve) => setImmediate(resolve));
  }
}
await Promise.all(folders.map(write));
