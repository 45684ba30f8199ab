import { gingerRoot } from "../demo/models/ginger-root";
import { nodePool } from "../src/compute/node-pool";
import { StopFlag } from "../src/compute/stop-flag";
import { measure } from "../src/core/check/measure";
import { type Asset, shapesOf } from "../src/core/layout/asset";
import { Stopped } from "../src/core/layout/stopped";
import { faceCount } from "../src/core/mesh/poly-mesh";
import { runEdit } from "../src/core/operations/run";
import { everything } from "../src/core/operations/scope";

// Draft of the ginger root: on one thread, and with its pieces side by side on a pool; and how soon it ends when it is told to
// stop, at several times of the work.

const small = gingerRoot(0.14);
const draft = async (root: Asset, width: number) => {
  const pool = width > 1 ? nodePool(width) : null;
  const context = { progress: () => {}, ...(pool ? { pool: pool.runner(undefined) } : {}) };
  // Threads that have just begun read their code first, which those of a page have done long before.
  await runEdit(small, "draft", {}, everything(small), context);
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

/** Seconds after which it is told to stop. */
const STOPS = [1.5, 3, 5, 8, 12, 16] as const;

const root = gingerRoot();
const waits: string[] = [];
for (const after of STOPS) {
  const pool = nodePool(2);
  const signal = new StopFlag();
  // Counted from when it was to be raised: what holds this thread up holds the signal up too.
  const told = performance.now() + 1000 * after;
  const timer = setTimeout(() => signal.raise(), 1000 * after);
  const context = {
    progress() {
      if (signal.isRaised) throw new Stopped("Stopped.");
    },
    pool: pool.runner(signal),
  };
  const ended = await runEdit(root, "draft", {}, everything(root), context).then(
    () => "done before",
    (error: unknown) => {
      if (!(error instanceof Stopped)) throw error;
      return `${(performance.now() - told).toFixed(0)} ms`;
    },
  );
  waits.push(`after ${after} s ${ended}`);
  clearTimeout(timer);
  pool.dispose();
}
process.stdout.write(`Stop, ${faceCount(shapesOf(root)[0]!.mesh).toLocaleString("en")} faces: ${waits.join(", ")}\n`);
