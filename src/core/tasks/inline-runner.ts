import type { Report } from "./report";
import type { TaskRunner } from "./task-runner";
import { tasks } from "./tasks";

/** Runs tasks here, one after another, for programs without workers and for tests. */
export const inlineRunner: TaskRunner = {
  width: 1,
  run: async (name, input, progress = () => {}) =>
    (tasks[name] as (input: unknown, report: Report) => never)(input, progress),
};
