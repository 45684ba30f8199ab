import { UserError } from "../core/layout/user-error";
import { Stopped } from "../core/operations/operation";
import type { Report } from "../core/tasks/report";
import type { TaskInput, TaskName, TaskOutput, TaskRunner } from "../core/tasks/task-runner";
import type { StopFlag } from "./stop-flag";

/** A worker as the pool sees it: a worker of a browser, or a thread of Node. */
export interface WorkerPort {
  post(message: ToWorker): void;
  /** Calls its listeners with answers, and when the worker ends. */
  listen(heard: (message: FromWorker) => void, ended: (error: Error) => void): void;
  end(): void;
}

export interface ToWorker {
  readonly run: number;
  readonly task: TaskName;
  readonly input: unknown;
  readonly flag: Int32Array | null;
}
export type FromWorker =
  | { readonly run: number; readonly share: number; readonly map?: Float64Array }
  /** The signal was seen, and the work comes to its end. */
  | { readonly run: number; readonly heard: true }
  | { readonly run: number; readonly value: unknown }
  | { readonly run: number; readonly failed: string; readonly kind: "refused" | "stopped" | "broken" };

/** High goes before low: what somebody waits for before what is measured meanwhile. */
export type Rank = "high" | "low";

interface Job extends ToWorker {
  readonly rank: Rank;
  readonly signal: StopFlag | undefined;
  readonly progress: Report | undefined;
  resolve(value: unknown): void;
  reject(error: Error): void;
}

interface Seat {
  port: WorkerPort;
  job: Job | null;
  /** It has seen the signal to stop. */
  heard: boolean;
}

/** A worker that has not looked at the signal for so long is ended. */
const PATIENCE = 200;
/** One that has may take so long to hand over what it has come to. */
const HANDING_OVER = 3000;

/** Some workers that keep nothing between tasks. */
export class Pool {
  private readonly seats: Seat[] = [];
  private readonly queues: Record<Rank, Job[]> = { high: [], low: [] };
  private runs = 0;
  private disposed = false;

  /** @param make starts a worker; asked for as many as `width`, when they are first needed */
  constructor(
    private readonly make: () => WorkerPort,
    readonly width: number,
  ) {}

  /** Runs a task when a worker is free. @throws Stopped when the signal is raised meanwhile */
  run<K extends TaskName>(
    task: K,
    input: TaskInput<K>,
    options: { rank?: Rank; signal?: StopFlag | undefined; progress?: Report } = {},
  ): Promise<TaskOutput<K>> {
    const { rank = "high", signal, progress } = options;
    return new Promise((resolve, reject) => {
      if (this.disposed || signal?.isRaised) {
        reject(new Stopped("Stopped."));
        return;
      }
      const flag = signal?.shared ?? null;
      const job: Job = {
        run: ++this.runs,
        task,
        input,
        flag,
        rank,
        signal,
        progress,
        resolve: resolve as Job["resolve"],
        reject,
      };
      const forget = signal?.onRaise(() => this.stop(job));
      const settle =
        <T>(then: (value: T) => void) =>
        (value: T) => {
          forget?.();
          then(value);
        };
      job.resolve = settle(job.resolve);
      job.reject = settle(job.reject);
      this.queues[rank].push(job);
      this.next();
    });
  }

  /** A runner for the core: its tasks belong to one piece of work and are stopped with it. */
  runner(signal: StopFlag | undefined, rank: Rank = "high"): TaskRunner {
    return {
      width: this.width,
      run: (task, input, progress) => this.run(task, input, { rank, signal, ...(progress ? { progress } : {}) }),
    };
  }

  private next(): void {
    for (;;) {
      const seat = this.freeSeat();
      if (!seat) return;
      const job = this.queues.high.shift() ?? this.queues.low.shift();
      if (!job) return;
      seat.job = job;
      const { run, task, input, flag } = job;
      seat.port.post({ run, task, input, flag });
    }
  }

  private freeSeat(): Seat | undefined {
    const free = this.seats.find((s) => !s.job);
    if (free || this.seats.length >= this.width || !(this.queues.high.length + this.queues.low.length)) return free;
    const seat: Seat = { port: this.make(), job: null, heard: false };
    this.seats.push(seat);
    seat.port.listen(
      (message) => this.heard(seat, message),
      (error) => this.lost(seat, error),
    );
    return seat;
  }

  private heard(seat: Seat, message: FromWorker): void {
    const { job } = seat;
    if (job?.run !== message.run) return;
    if ("heard" in message) {
      seat.heard = true;
      return;
    }
    if ("share" in message) {
      try {
        job.progress?.(message.share, message.map);
      } catch {
        // The caller was asked to stop meanwhile; the task hears of it by its own signal.
      }
      return;
    }
    seat.job = null;
    seat.heard = false;
    if ("value" in message) job.resolve(message.value);
    else
      job.reject(
        message.kind === "refused"
          ? new UserError(message.failed)
          : message.kind === "stopped"
            ? new Stopped(message.failed)
            : new Error(message.failed),
      );
    this.next();
  }

  private lost(seat: Seat, error: Error): void {
    const at = this.seats.indexOf(seat);
    if (at >= 0) this.seats.splice(at, 1);
    seat.job?.reject(error);
    seat.job = null;
    if (!this.disposed) this.next();
  }

  /** The signal was raised: waiting work goes at once, running work when it looks, or with its worker. */
  private stop(job: Job): void {
    const queue = this.queues[job.rank];
    const at = queue.indexOf(job);
    if (at >= 0) {
      queue.splice(at, 1);
      job.reject(new Stopped("Stopped."));
      return;
    }
    const seat = this.seats.find((s) => s.job === job);
    if (!seat) return;
    const end = () => {
      if (seat.job !== job) return;
      seat.port.end();
      this.lost(seat, new Stopped("Stopped."));
    };
    setTimeout(() => (seat.heard ? setTimeout(end, HANDING_OVER) : end()), job.flag ? PATIENCE : 0);
  }

  dispose(): void {
    this.disposed = true;
    for (const job of [...this.queues.high.splice(0), ...this.queues.low.splice(0)]) job.reject(new Stopped("Closed."));
    for (const seat of this.seats.splice(0)) {
      seat.port.end();
      seat.job?.reject(new Stopped("Closed."));
    }
  }
}
