import type { Report } from "./report";
import type { Tasks } from "./tasks";

export type TaskName = keyof Tasks;
export type TaskInput<K extends TaskName> = Parameters<Tasks[K]>[0];
export type TaskOutput<K extends TaskName> = Awaited<ReturnType<Tasks[K]>>;

/** Runs tasks somewhere: on workers side by side, or here. */
export interface TaskRunner {
  /** How many run at the same time. */
  readonly width: number;
  /** @throws Stopped when the work it belongs to was stopped */
  run<K extends TaskName>(name: K, input: TaskInput<K>, progress?: Report): Promise<TaskOutput<K>>;
}
