import { StopFlag } from "@/compute/stop-flag";
import { UserError } from "@/core/layout/user-error";
import { Stopped } from "@/core/operations/operation";
import type { Bench, Job } from "./store";

let count = 0;

/** Tells the share that is done, and how much of what the work is after was reached. */
export type Tell = (share: number, reached?: number) => void;

/** Runs work as a job; its signal is raised when somebody stops it. */
export async function asJob<T>(
  bench: Bench,
  title: string,
  act: (flag: StopFlag, progress: Tell) => Promise<T>,
): Promise<T> {
  const flag = new StopFlag();
  const id = ++count;
  const begun = performance.now();
  const job: Job = { id, title, share: 0, curve: [], stop: () => flag.raise() };
  const change = (to: (jobs: readonly Job[]) => readonly Job[]) => bench.setState((s) => ({ jobs: to(s.jobs) }));
  change((jobs) => [...jobs, job]);
  try {
    const told = (j: Job, share: number, reached?: number): Job =>
      reached === undefined || reached === j.curve.at(-1)?.reached
        ? { ...j, share }
        : { ...j, share, curve: [...j.curve, { seconds: (performance.now() - begun) / 1000, reached }] };
    return await act(flag, (...to) => change((jobs) => jobs.map((j) => (j.id === id ? told(j, ...to) : j))));
  } finally {
    change((jobs) => jobs.filter((j) => j.id !== id));
  }
}

/** Milliseconds within which a worker has to look at a signal that it can see; and to bring in what was reached. */
const LOOK = 200;
const LOOK_AND_KEEP = 4000;

interface JobEvents {
  /** The worker ignored the signal: end it, and start another with the document as it was. */
  overdue(): void;
  failed(words: string, tone: "info" | "refused", error: unknown): void;
  /** When stopped, the work keeps what it has reached. */
  readonly keeps: boolean;
}

/** Runs work as a job, ends a worker that does not stop when asked to, and reports how it went. */
export async function runJob(
  bench: Bench,
  title: string,
  act: (flag: StopFlag, progress: Tell) => Promise<void>,
  { overdue, failed, keeps }: JobEvents,
): Promise<void> {
  try {
    await asJob(bench, title, async (flag, progress) => {
      let running = true;
      // A signal that the worker cannot see is no use waiting for.
      const forget = flag.onRaise(() => {
        setTimeout(() => running && overdue(), flag.shared ? (keeps ? LOOK_AND_KEEP : LOOK) : 0);
      });
      try {
        await act(flag, progress);
      } finally {
        running = false;
        forget();
      }
    });
  } catch (error) {
    if (error instanceof Stopped) failed(`${title} was stopped; nothing has changed.`, "info", error);
    else if (error instanceof UserError) failed(error.message, "refused", error);
    else failed(`${title} failed: ${error instanceof Error ? error.message : error}`, "refused", error);
  }
}

/** Stops the work that was begun last. */
export const stopLastJob = (bench: Bench): void => bench.getState().jobs.at(-1)?.stop();
