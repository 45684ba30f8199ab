import { Stopped } from "../layout/stopped";
import type { Context } from "./context";
import { inlineRunner } from "./inline-runner";
import type { TaskInput, TaskName, TaskOutput } from "./task-runner";

/**
 * Runs one task for each of many inputs, as many side by side as the context has workers, and tells the share done,
 * weighted by what each is worth.
 *
 * @throws Stopped when the work is stopped
 */
export async function spread<K extends TaskName>(...[name, inputs, weights, context, progress, shown]: Spread<K>) {
  const { out, stopped } = await spreadReached(name, inputs, weights, context, progress, shown);
  if (stopped) throw stopped;
  return out as TaskOutput<K>[];
}

type Spread<K extends TaskName> = [
  name: K,
  inputs: readonly TaskInput<K>[],
  weights: readonly number[],
  context: Context,
  progress: (share: number) => void,
  /** Told of what a task has come to, by its place among the inputs. */
  shown?: (i: number, map: Float64Array) => void,
];

/** The same, but when stopped it returns what was done, with gaps for the rest. */
export async function spreadReached<K extends TaskName>(
  ...[name, inputs, weights, context, progress, shown]: Spread<K>
): Promise<{ out: Array<TaskOutput<K> | undefined>; stopped: Stopped | null }> {
  const pool = context.pool ?? inlineRunner;
  const total = weights.reduce((a, b) => a + b, 0) || 1;
  const shares = new Float64Array(inputs.length);
  let sum = 0;
  let left = inputs.length;
  const tell = (i: number, share: number) => {
    const now = (share * weights[i]!) / total;
    sum += now - shares[i]!;
    shares[i] = now;
    // What rounding leaves of the sum is not left undone.
    progress(left ? Math.min(1, sum) : 1);
  };
  const out: Array<TaskOutput<K> | undefined> = new Array(inputs.length).fill(undefined);
  let stopped: Stopped | null = null;
  // The heaviest first: the last to be done should be small.
  const order = inputs.map((_, i) => i).sort((a, b) => weights[b]! - weights[a]!);
  let next = 0;
  const worker = async () => {
    try {
      while (next < order.length) {
        const i = order[next++]!;
        context.check?.();
        const share = (done: number, map?: Float64Array) => {
          if (map) shown?.(i, map);
          tell(i, done);
        };
        out[i] = await pool.run(name, inputs[i]!, share);
        left--;
        share(1);
      }
    } catch (error) {
      // One failed: the others begin nothing more.
      next = order.length;
      if (!(error instanceof Stopped)) throw error;
      stopped = error;
    }
  };
  await Promise.all(Array.from({ length: Math.max(1, pool.width) }, worker));
  return { out, stopped };
}
