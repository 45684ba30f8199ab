import { measure } from "../src/core/check/measure";
import { summaryOf } from "../src/core/check/summary";
import { UserError } from "../src/core/layout/user-error";
import { createAsset, listAssets } from "../src/server/assets";
import { dataFolder } from "../src/server/data-folder";
import { database } from "../src/server/database";
import { demoAssets } from "./assets";

// Fills an empty data folder with the night market; a folder that holds assets is left as it is.
const db = await database().catch((error: Error) => {
  process.stderr.write(`${error instanceof UserError ? error.message : error.stack}\n`);
  process.exit(1);
});
if ((await listAssets(db)).length)
  process.stderr.write(`${dataFolder()} holds assets already; they stay as they are.\n`);
else
  for (const asset of await demoAssets()) {
    await createAsset(db, asset, summaryOf(measure(asset)));
    process.stderr.write(`Added ${asset.name}.\n`);
  }
await db.close();
process.exit(0);
