import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { UserError } from "@/core/layout/user-error";
import { Stopped } from "@/core/operations/operation";
import { asJob, runJob, stopLastJob } from "./jobs";
import { type Job, newBench } from "./store";

const bench = newBench();
const jobs = () => bench.getState().jobs;

describe("a job", () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it("is listed with its share for as long as it runs, and no longer, however it ends", async () => {
    const shares: number[] = [];
    const answer = await asJob(bench, "Pack", async (_, progress) => {
      shares.push(jobs()[0]!.share);
      progress(0.5);
      shares.push(jobs()[0]!.share);
      return 7;
    });
    expect([answer, shares, jobs().length]).toEqual([7, [0, 0.5], 0]);
    await expect(asJob(bench, "Pack", () => Promise.reject(new Error("no")))).rejects.toThrow("no");
    expect(jobs()).toEqual([]);
  });

  it("keeps what it tells to have reached, each time that it is another", async () => {
    let curve: Job["curve"] = [];
    await asJob(bench, "Pack", async (_, progress) => {
      for (const [share, reached] of [[0], [0.1, 0.6], [0.2, 0.6], [0.3, 0.7], [0.4]] as const) {
        progress(share!, reached);
        vi.advanceTimersByTime(1000);
      }
      curve = jobs()[0]!.curve;
      expect(jobs()[0]!.share).toBe(0.4);
    });
    expect(curve.map((c) => c.reached)).toEqual([0.6, 0.7]);
    expect(curve[1]!.seconds).toBeGreaterThan(curve[0]!.seconds);
  });

  it("is stopped alone: the newest first, others go on", async () => {
    const ended: string[] = [];
    const run = (title: string) =>
      asJob(bench, title, (flag) => new Promise<number>((resolve) => flag.onRaise(() => resolve(ended.push(title)))));
    const [first, second] = [run("Unfold"), run("Measure")];
    stopLastJob(bench);
    await second;
    expect([ended, jobs().map((j) => j.title)]).toEqual([["Measure"], ["Unfold"]]);
    stopLastJob(bench);
    await first;
    stopLastJob(bench); // with nothing under way it does nothing
    expect([ended, jobs().length]).toEqual([["Measure", "Unfold"], 0]);
  });

  /** Runs work that ends `after` milliseconds from its stop; tells whether its worker was ended for it. */
  async function stopped(after: number, keeps: boolean): Promise<{ overdue: number; said: string[] }> {
    const out = { overdue: 0, said: [] as string[] };
    const done = runJob(
      bench,
      "Draft",
      (flag) =>
        new Promise((_, reject) => {
          flag.onRaise(() => setTimeout(() => reject(new Stopped()), after));
        }),
      { keeps, overdue: () => out.overdue++, failed: (words) => out.said.push(words) },
    );
    stopLastJob(bench);
    await vi.advanceTimersByTimeAsync(10_000);
    await done;
    return out;
  }

  it("costs its worker when it does not look at the stop in time, and not when it does", async () => {
    const said = ["Draft was stopped; nothing has changed."];
    expect(await stopped(100, false)).toEqual({ overdue: 0, said });
    expect(await stopped(300, false)).toEqual({ overdue: 1, said });
    // Work that keeps what it reached has time to bring it in.
    expect(await stopped(1500, true)).toEqual({ overdue: 0, said });
    expect(await stopped(4500, true)).toEqual({ overdue: 1, said });
  });

  it("tells a refusal in its own words, and a fault as one", async () => {
    const told: string[][] = [];
    const how = { keeps: false, overdue: () => {}, failed: (words: string, tone: string) => told.push([words, tone]) };
    await runJob(bench, "Pack", () => Promise.reject(new UserError("Pick shells first.")), how);
    await runJob(bench, "Pack", () => Promise.reject(new Error("out of range")), how);
    expect(told).toEqual([
      ["Pick shells first.", "refused"],
      ["Pack failed: out of range", "refused"],
    ]);
  });
});
