import { randomUUID } from "node:crypto";
import { afterAll, describe, expect, it } from "vitest";
import { readAsset } from "../core/formats/read-asset";
import type { Asset } from "../core/layout/asset";
import { deltaBetween } from "../core/layout/delta";
import { readHistory, replay } from "../core/operations/history-file";
import type { Scope } from "../core/operations/operation";
import { runEdit } from "../core/operations/run";
import { everything } from "../core/operations/scope";
import { queryOfScope } from "../core/operations/scope-query";
import { quiet, shapeAt } from "../testing/assets";
import { DATABASES, removeFolders, save } from "../testing/storage";
import { createAsset, loadAsset } from "./assets";
import type { Database } from "./database";
import { appendRevision, stepHistory } from "./revisions";
import { savedHistory } from "./saved-history";

afterAll(removeFolders);

/** A chest with its lid as another object, as it came from elsewhere. */
const CHEST = `o Chest
v 0 0 0
v 2 0 0
v 2 0 1
v 0 0 1
v 0 1 0
v 2 1 0
v 2 1 1
v 0 1 1
f 1 2 3 4
f 1 5 6 2
f 2 6 7 3
f 3 7 8 4
f 4 8 5 1
o Lid
v 0 1 0
v 2 1 0
v 2 1 1
v 0 1 1
f 12 11 10 9
`;
const chest = (): Promise<Asset> => readAsset(new TextEncoder().encode(CHEST), { name: "chest.obj" });

describe.each(DATABASES)("a history saved from %s", (_, open) => {
  async function step(db: Database, id: string, operation: string, options: unknown, part: Partial<Scope> = {}) {
    const { asset, history } = await loadAsset(db, id);
    const scope = { ...everything(asset), ...part };
    const { asset: after, result } = await runEdit(asset, operation, options, scope, quiet);
    await appendRevision(db, id, {
      base: history.version,
      key: randomUUID(),
      operation,
      options,
      scope: queryOfScope(asset, scope),
      words: result.words,
      figures: null,
      delta: deltaBetween(asset, after),
    });
  }

  it("does the same again on the file the asset came from", async () => {
    const db = await open();
    const id = await createAsset(db, { ...(await chest()), unit: "in" });
    const { asset } = await loadAsset(db, id);
    await step(db, id, "creased", {});
    await step(
      db,
      id,
      "split-off",
      {},
      {
        selection: { kind: "faces", items: new Map([[shapeAt(asset).id, Uint32Array.of(0)]]) },
      },
    );
    await step(db, id, "draft", { padding: 40 });
    await stepHistory(db, id, (await loadAsset(db, id)).history.version, "undo");
    await step(db, id, "draft", {});
    await step(db, id, "move", { du: 0.25 });
    const text = JSON.stringify(await savedHistory(db, id));
    const history = readHistory(text, "chest history.json");
    expect([history.source, history.unit]).toEqual(["chest.obj", "in"]);
    // What was gone back on is no part of it.
    expect(history.steps.map((s) => s.operation)).toEqual(["creased", "split-off", "draft", "move"]);
    const again = await replay(await chest(), history, [], quiet, () => {});
    const kept = (await loadAsset(db, id)).asset;
    const values = ({ parts, shapes, sets, unit, source }: Asset) => ({ parts, shapes, sets, unit, source });
    expect(values(again)).toEqual(values(kept));
    await db.close();
  });

  it("says of steps that kept no scope that they cannot be done", async () => {
    const db = await open();
    const asset = await chest();
    const id = await createAsset(db, asset);
    const { asset: after } = await runEdit(asset, "creased", {}, everything(asset), quiet);
    await save(db, id, 0, asset, after, "Creased");
    const history = await savedHistory(db, id);
    expect(history.steps.map((s) => s.scope)).toEqual([null]);
    await expect(savedHistory(db, "nobody")).rejects.toThrow("no longer there");
    await db.close();
  });
});
