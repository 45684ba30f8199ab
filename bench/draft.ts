import { gingerRoot } from "../demo/models/ginger-root";
import { nodePool } from "../src/compute/node-pool";
import { measure } from "../src/core/check/measure";
import { type Asset, shapesOf } from "../src/core/layout/asset";
import { faceCount } from "../src/core/mesh/poly-mesh";
import { runEdit } from "../src/core/operations/run";
import { everything } from "../src/core/operations/scope";

// Draft of the ginger root: on one thread, and with its pieces side by side on a pool.

const draft = async (root: Asset, width: number) => {
  const pool = width > 1 ? nodePool(width) : null;
  const context = { progress: () => {}, ...(pool ? { pool: pool.runner(undefined) } : {}) };
  const began = performance.now();
  const { asset } = await runEdit(root, "draft", {}, everything(root), context);
  const seconds = (performance.now() - began) / 1000;
  pool?.dispose();
  return { seconds, asset };
};

/** A root of 19,208 triangles, and the whole of 106,352. */
for (const root of [gingerRoot(0.16), gingerRoot()]) {
  const rows: string[] = [];
  let one = 0;
  for (const width of [2, 1]) {
    const { seconds, asset } = await draft(root, width);
    one ||= seconds;
    const m = measure(asset);
    const figures = `${m.shells} shells, stretch ${m.symmetricDirichlet!.toFixed(4)}, filled ${(100 * m.coverage!).toFixed(1)} %`;
    rows.push(
      `${width} thread${width > 1 ? "s" : " "}  ${seconds.toFixed(1)} s  x ${(seconds / one).toFixed(2)}  ${figures}`,
    );
  }
  process.stdout.write(
    `Draft of the ginger root, ${faceCount(shapesOf(root)[0]!.mesh).toLocaleString("en")} faces\n${rows.join("\n")}\n`,
  );
}
