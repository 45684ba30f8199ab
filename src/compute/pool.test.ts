import { afterAll, describe, expect, it, vi } from "vitest";
import { box } from "../../demo/kit";
import { paperLantern } from "../../demo/models/paper-lantern";
import { UserError } from "../core/layout/user-error";
import { meshFromPolygons } from "../core/mesh/poly-mesh";
import { Stopped } from "../core/operations/operation";
import { runEdit } from "../core/operations/run";
import { everything } from "../core/operations/scope";
import { inlineRunner } from "../core/tasks/inline-runner";
import type { TaskRunner } from "../core/tasks/task-runner";
import { assetOf } from "../testing/assets";
import { nodePool } from "./node-pool";
import { type FromWorker, Pool, type ToWorker, type WorkerPort } from "./pool";
import { StopFlag } from "./stop-flag";

/** Workers that do nothing by themselves: the test answers for them. */
class Scripted {
  readonly posted: Array<{ worker: number; message: ToWorker }> = [];
  readonly ended: number[] = [];
  private readonly heard: Array<(message: FromWorker) => void> = [];
  private readonly lost: Array<(error: Error) => void> = [];
  readonly pool: Pool;

  constructor(width: number) {
    this.pool = new Pool(() => this.port(), width);
  }

  private port(): WorkerPort {
    const worker = this.heard.length;
    return {
      post: (message) => void this.posted.push({ worker, message }),
      listen: (heard, ended) => {
        this.heard.push(heard);
        this.lost.push(ended);
      },
      end: () => void this.ended.push(worker),
    };
  }

  answer(at: number, value: unknown): void {
    const { worker, message } = this.posted[at]!;
    this.heard[worker]!({ run: message.run, value });
  }
  tell(at: number, share: number, map?: Float64Array): void {
    const { worker, message } = this.posted[at]!;
    this.heard[worker]!({ run: message.run, share, ...(map ? { map } : {}) });
  }
  hear(at: number): void {
    const { worker, message } = this.posted[at]!;
    this.heard[worker]!({ run: message.run, heard: true });
  }
  fail(at: number, kind: "refused" | "stopped" | "broken"): void {
    const { worker, message } = this.posted[at]!;
    this.heard[worker]!({ run: message.run, failed: "no", kind });
  }
  breakDown(worker: number): void {
    this.lost[worker]!(new Error("out of memory"));
  }
}

// What the scripted workers are asked is of no concern; the pool passes it on.
const task = (pool: Pool, options: Parameters<Pool["run"]>[2] = {}) =>
  pool.run("unfoldShell", {} as never, options) as Promise<unknown>;

describe("a pool of workers", () => {
  it("hands out as many tasks as it has workers, those that are waited for first", async () => {
    const s = new Scripted(2);
    const first = [task(s.pool), task(s.pool)];
    const low = task(s.pool, { rank: "low" });
    const high = task(s.pool);
    expect(s.posted).toHaveLength(2);
    s.answer(0, "a");
    expect(await first[0]).toBe("a");
    s.answer(2, "c");
    expect(await high).toBe("c");
    s.answer(3, "d");
    expect(await low).toBe("d");
    s.answer(1, "b");
    expect(await first[1]).toBe("b");
  });

  it("tells refusals, stops and breakdowns apart", async () => {
    const s = new Scripted(1);
    const outcomes = [task(s.pool), task(s.pool), task(s.pool)];
    const kinds = ["refused", "stopped", "broken"] as const;
    for (const [i, kind] of kinds.entries()) {
      const settled = outcomes[i]!.catch((e: Error) => e);
      s.fail(i, kind);
      const error = await settled;
      expect(error).toBeInstanceOf([UserError, Stopped, Error][i]!);
    }
  });

  it("lets waiting work go at once when it is stopped, and begins none for a raised signal", async () => {
    const s = new Scripted(1);
    const running = task(s.pool);
    const signal = new StopFlag();
    const waiting = task(s.pool, { signal });
    signal.raise();
    await expect(waiting).rejects.toThrow(Stopped);
    await expect(task(s.pool, { signal })).rejects.toThrow(Stopped);
    s.answer(0, "still there");
    expect(await running).toBe("still there");
    expect(s.ended).toEqual([]);
  });

  it("ends a worker that does not look at the signal, and goes on with another", async () => {
    const s = new Scripted(1);
    const signal = new StopFlag();
    const stuck = task(s.pool, { signal });
    const next = task(s.pool);
    signal.raise();
    await expect(stuck).rejects.toThrow(Stopped);
    expect(s.ended).toEqual([0]);
    s.answer(1, "done by another");
    expect(await next).toBe("done by another");
  });

  it("gives a worker that has seen the signal time to hand over what it has come to", async () => {
    vi.useFakeTimers();
    try {
      const s = new Scripted(1);
      const [first, second] = [new StopFlag(), new StopFlag()];
      const work = task(s.pool, { signal: first });
      first.raise();
      s.hear(0);
      await vi.advanceTimersByTimeAsync(1500);
      s.answer(0, "what was reached");
      expect(await work).toBe("what was reached");
      expect(s.ended).toEqual([]);
      // Not for ever, and not the one after it.
      const stuck = task(s.pool, { signal: second }).catch((e: Error) => e);
      second.raise();
      await vi.advanceTimersByTimeAsync(400);
      expect(await stuck).toBeInstanceOf(Stopped);
      expect(s.ended).toEqual([0]);
      const third = new StopFlag();
      const slow = task(s.pool, { signal: third }).catch((e: Error) => e);
      third.raise();
      s.hear(2);
      await vi.advanceTimersByTimeAsync(9000);
      expect(await slow).toBeInstanceOf(Stopped);
    } finally {
      vi.useRealTimers();
    }
  });

  it("passes on what a task has come to", async () => {
    const s = new Scripted(1);
    const told: unknown[] = [];
    const work = task(s.pool, { progress: (...what) => told.push(what) });
    s.tell(0, 0.5, Float64Array.of(1, 2));
    s.answer(0, "done");
    await work;
    expect(told).toEqual([[0.5, Float64Array.of(1, 2)]]);
  });

  it("fails only the task of a worker that breaks down", async () => {
    const s = new Scripted(1);
    const lost = task(s.pool);
    const next = task(s.pool);
    const settled = expect(lost).rejects.toThrow("out of memory");
    s.breakDown(0);
    await settled;
    s.answer(1, "fine");
    expect(await next).toBe("fine");
  });

  it("goes on when whoever is told of progress has been told to stop", async () => {
    const s = new Scripted(1);
    const progress = () => {
      throw new Stopped("Stopped.");
    };
    const work = task(s.pool, { progress });
    s.tell(0, 0.5);
    s.answer(0, "done all the same");
    expect(await work).toBe("done all the same");
  });

  it("hears nothing more of a task after it was stopped", async () => {
    const s = new Scripted(1);
    const signal = new StopFlag();
    const stopped = task(s.pool, { signal }).catch((e: Error) => e);
    signal.raise();
    s.fail(0, "stopped");
    expect(await stopped).toBeInstanceOf(Stopped);
    s.answer(0, "late");
    s.pool.dispose();
    await expect(task(s.pool)).rejects.toThrow(Stopped);
  });
});

describe("threads of Node", () => {
  const pool = nodePool(2);
  afterAll(() => pool.dispose());

  it("give what one thread gives, to the last bit", async () => {
    const lantern = paperLantern();
    const run = async (runner: typeof inlineRunner) =>
      (await runEdit(lantern, "draft", {}, everything(lantern), { progress: () => {}, pool: runner })).asset;
    const [here, there] = [await run(inlineRunner), await run(pool.runner(undefined))];
    expect([...there.shapes.values()].map((s) => [...s.layouts.values()])).toEqual(
      [...here.shapes.values()].map((s) => [...s.layouts.values()]),
    );
  }, 60_000);

  it("work on the pieces of one large shape side by side, and give what one thread gives", async () => {
    const crate = box([3, 2, 1], [27, 27, 27]);
    const root = assetOf(meshFromPolygons(crate.points.flat(), crate.faces));
    const run = async (runner: TaskRunner) => {
      const names: string[] = [];
      const counted: TaskRunner = {
        ...runner,
        run: (name, input, progress) => {
          names.push(name);
          return runner.run(name, input, progress);
        },
      };
      const context = { progress: () => {}, pool: counted };
      const { asset } = await runEdit(root, "draft", {}, everything(root), context);
      return { names, layouts: [...asset.shapes.values()].map((s) => [...s.layouts.values()]) };
    };
    const [here, there] = [await run(inlineRunner), await run(pool.runner(undefined))];
    expect(here.names.filter((n) => n === "draftShape")).toHaveLength(1);
    expect(there.names.filter((n) => n === "draftPiece").length).toBeGreaterThan(5);
    expect(there.layouts).toEqual(here.layouts);
  }, 60_000);

  it("stop soon after the signal, and work again", async () => {
    const lantern = paperLantern();
    const signal = new StopFlag();
    const work = runEdit(lantern, "draft", {}, everything(lantern), {
      progress: () => {},
      pool: pool.runner(signal),
      check: () => {
        if (signal.isRaised) throw new Stopped("Stopped.");
      },
    });
    setTimeout(() => signal.raise(), 50);
    await expect(work).rejects.toThrow(Stopped);
    const again = await runEdit(lantern, "creased", {}, everything(lantern), {
      progress: () => {},
      pool: pool.runner(undefined),
    });
    expect(again.result.words).toContain("Creased");
  }, 60_000);
});
