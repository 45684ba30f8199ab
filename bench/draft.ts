import { gingerRoot } from "../demo/models/ginger-root";
import { nodePool } from "../src/compute/node-pool";
import { measure } from "../src/core/check/measure";
import { runEdit } from "../src/core/operations/run";
import { everything } from "../src/core/operations/scope";

// Draft of the ginger root: on one thread, and with its pieces side by side on a pool.

const root = gingerRoot();
const draft = async (width: number) => {
  const pool = width > 1 ? nodePool(width) : null;
  const context = { progress: () => {}, ...(pool ? { pool: pool.runner(undefined) } : {}) };
  const began = performance.now();
  const { asset } = await runEdit(root, "draft", {}, everything(root), context);
  const seconds = (performance.now() - began) / 1000;
  pool?.dispose();
  return { seconds, asset };
};

const rows: string[] = [];
let one = 0;
for (const width of [2, 1]) {
  const { seconds, asset } = await draft(width);
  one ||= seconds;
  const m = measure(asset);
  const figures = `${m.shells} shells, stretch ${m.symmetricDirichlet!.toFixed(4)}, filled ${(100 * m.coverage!).toFixed(1)} %`;
  rows.push(
    `${width} thread${width > 1 ? "s" : " "}  ${seconds.toFixed(1)} s  x ${(seconds / one).toFixed(2)}  ${figures}`,
  );
}
process.stdout.write(`Draft of the ginger root, ${root.parts.length} part\n${rows.join("\n")}\n`);
