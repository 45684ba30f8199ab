import { assemble, lathe } from "../demo/kit";
import { withPoints } from "../src/core/layout/uv-set";
import { openDatabase } from "../src/server/database";
import { appendRevision, createAsset, loadAsset } from "../src/server/store";

// Writes revisions for ever, telling of each when the database has it; the test kills this process in the midst.
const db = await openDatabase(process.argv[2]!);
const id = await createAsset(
  db,
  assemble(
    "Drum",
    "cm",
    [],
    [
      {
        name: "Drum",
        shape: lathe(
          [
            [1, 0],
            [1, 1],
          ],
          8,
        ),
      },
    ],
  ),
);
const { asset } = await loadAsset(db, id);
process.stdout.write(`asset ${id}\n`);
for (let n = 1; ; n++) {
  const old = asset.parts[0]!.uvSets[0]!;
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
    changes: [{ part: "p1", set: 0, layout }],
  });
  process.stdout.write(`saved ${n}\n`);
}
