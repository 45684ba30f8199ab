import { assemble, lathe } from "../../demo/kit";
import { withPoints } from "../core/layout/layout";
import { createAsset, listAssets, loadAsset } from "../server/assets";
import type { Database } from "../server/database";
import { appendRevision } from "../server/revisions";

// Edits that tell afterwards whether they are there: the nth puts the first point of a drum at n. For tests that end
// the writer in the midst, or tear its files.

const profile: Array<[number, number]> = Array.from({ length: 12 }, (_, i) => [1, i]);
const drum = () => assemble("Drum", "cm", [], [{ name: "Drum", shape: lathe(profile, 24) }]);

export interface CountedEdits {
  /** Edits that were in the database. */
  readonly version: number;
  /** Where the first point was: as far to the right as there were edits, when none was lost or half there. */
  readonly point: number;
  save(n: number): Promise<void>;
}

/** The drum of a database, made when there is none. */
export async function countedEdits(db: Database): Promise<CountedEdits> {
  const id = (await listAssets(db))[0]?.id ?? (await createAsset(db, drum()));
  const { asset, history } = await loadAsset(db, id);
  const old = asset.shapes.get("p1")!.layouts.get("s1")!;
  return {
    version: history.version,
    point: history.version ? old.uv[0]! : 0,
    async save(n) {
      const uv = old.uv.map((x, i) => (i === 0 ? n : x));
      await appendRevision(db, id, {
        base: n - 1,
        key: `${process.pid}-${n}`,
        operation: "move",
        options: {},
        scope: null,
        words: `Edit ${n}`,
        figures: null,
        delta: { parts: [], shapes: [], layouts: [{ shape: "p1", set: "s1", layout: withPoints(old, uv) }] },
      });
    },
  };
}
