import { assemble, lathe } from "../demo/kit";
import { withPoints } from "../src/core/layout/uv-set";
import { createAsset, listAssets, loadAsset } from "../src/server/assets";
import { openDatabase } from "../src/server/database";
import { appendRevision } from "../src/server/revisions";

// Writes revisions for ever, telling of each when the database has it; the test kills this process in the midst. Started
// again on the same folder it tells what it found, and goes on from there.
const db = await openDatabase(process.argv[2]!);
const profile: Array<[number, number]> = Array.from({ length: 12 }, (_, i) => [1, i]);
const known = (await listAssets(db))[0]?.id;
const id = known ?? (await createAsset(db, assemble("Drum", "cm", [], [{ name: "Drum", shape: lathe(profile, 24) }])));
const { asset, history } = await loadAsset(db, id);
const old = asset.parts[0]!.uvSets[0]!;
process.stdout.write(`found ${history.version} ${old.uv[0]}\n`);
for (let n = history.version + 1; ; n++) {
  const layout = withPoints(
    old,
    old.uv.map((x, i) => (i === 0 ? n : x)),
  );
  await appendRevision(db, id, {
    base: n - 1,
    operation: "move",
    options: {},
    words: `Edit ${n}`,
    figures: null,
    delta: { parts: [], layouts: [{ part: "p1", set: 0, layout }] },
  });
  process.stdout.write(`saved ${n}\n`);
}
