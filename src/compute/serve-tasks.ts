import { UserError } from "../core/layout/user-error";
import { Stopped } from "../core/operations/operation";
import type { Report } from "../core/tasks/report";
import { tasks } from "../core/tasks/tasks";
import type { FromWorker, ToWorker } from "./pool";
import { checkFlag } from "./stop-flag";

/** Progress is reported at most once in this time, so that it costs nothing; the signal is checked each time. */
const TELL_EVERY = 40;

/** Does what a pool asks of a worker. */
export async function serveTask(
  { run, task, input, flag }: ToWorker,
  post: (message: FromWorker) => void,
): Promise<void> {
  let last = 0;
  let heard = false;
  const report: Report = (share, map) => {
    try {
      checkFlag(flag);
    } catch (stopped) {
      if (!heard) post({ run, heard: true });
      heard = true;
      throw stopped;
    }
    const now = performance.now();
    if (now - last < TELL_EVERY && !map) return;
    last = now;
    post(map ? { run, share, map } : { run, share });
  };
  try {
    const value = await (tasks[task] as (input: unknown, report: Report) => unknown)(input, report);
    post({ run, value });
  } catch (error) {
    const kind = error instanceof UserError ? "refused" : error instanceof Stopped ? "stopped" : "broken";
    post({ run, failed: error instanceof Error ? error.message : String(error), kind });
  }
}
