import { StopFlag } from "@/compute/stop-flag";
import { useBench } from "./store";

/** Work that is told of in the status line, and can be stopped there. */
export interface Job {
  readonly id: number;
  readonly title: string;
  readonly share: number;
  stop(): void;
}

let count = 0;

/** Runs work as a job; its signal is raised when somebody stops it. */
export async function asJob<T>(
  title: string,
  act: (flag: StopFlag, progress: (share: number) => void) => Promise<T>,
): Promise<T> {
  const flag = new StopFlag();
  const id = ++count;
  const job: Job = { id, title, share: 0, stop: () => flag.raise() };
  const change = (to: (jobs: readonly Job[]) => readonly Job[]) => useBench.setState((s) => ({ jobs: to(s.jobs) }));
  change((jobs) => [...jobs, job]);
  try {
    return await act(flag, (share) => change((jobs) => jobs.map((j) => (j.id === id ? { ...j, share } : j))));
  } finally {
    change((jobs) => jobs.filter((j) => j.id !== id));
  }
}

/** Stops the work that was begun last. */
export const stopLastJob = (): void => useBench.getState().jobs.at(-1)?.stop();
