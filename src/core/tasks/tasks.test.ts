import { describe, expect, it } from "vitest";
import { box, lathe, type Shape } from "../../../demo/kit";
import { faceCount, meshFromPolygons, type PolyMesh } from "../mesh/poly-mesh";
import { type Context, Stopped } from "../operations/operation";
import { seamCosts } from "../seams/edge-cost";
import { draftShapes } from "./draft-shapes";
import { inlineRunner } from "./inline-runner";
import { spread, spreadReached } from "./spread";
import type { TaskName, TaskRunner } from "./task-runner";

// Work that is spread over workers: the heaviest first, no more at a time than there are workers, progress that only
// grows, and an end to all of it when one part fails or is stopped.

interface Call {
  readonly input: unknown;
  resolve(value: unknown): void;
  reject(error: Error): void;
  progress(share: number): void;
}

/** Workers for which the test answers. */
function scripted(width: number): { runner: TaskRunner; calls: Call[] } {
  const calls: Call[] = [];
  const run = (_: TaskName, input: unknown, progress: (share: number) => void = () => {}) =>
    new Promise((resolve, reject) => {
      calls.push({ input, resolve, reject, progress });
    });
  return { runner: { width, run } as unknown as TaskRunner, calls };
}
const turn = () => new Promise((resolve) => setTimeout(resolve));
const inputs = (n: number) => Array.from({ length: n }, (_, k) => ({ form: k, passes: 0 })) as never;

describe("spreading work", () => {
  it("begins with the heaviest, as many at a time as there are workers, and answers in the order asked", async () => {
    const { runner, calls } = scripted(2);
    const shares: number[] = [];
    const context: Context = { progress: () => {}, pool: runner };
    const all = spread("unfoldShell", inputs(4), [1, 4, 2, 3], context, (s) => shares.push(s));
    const begun = () => calls.map((c) => (c.input as { form: number }).form);
    expect(begun()).toEqual([1, 3]);
    calls[0]!.progress(0.5);
    calls[1]!.resolve("three");
    await turn();
    expect(begun()).toEqual([1, 3, 2]);
    calls[0]!.resolve("one");
    await turn();
    calls[2]!.resolve("two");
    calls[3]!.resolve("zero");
    expect(await all).toEqual(["zero", "one", "two", "three"]);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares.at(-1)).toBe(1);
    expect(shares[0]).toBeCloseTo(0.2, 9);
  });

  it("begins nothing more when one fails, and tells why", async () => {
    const { runner, calls } = scripted(2);
    const all = spread("unfoldShell", inputs(5), [1, 1, 1, 1, 1], { progress: () => {}, pool: runner }, () => {});
    const told = expect(all).rejects.toThrow("broken");
    calls[0]!.reject(new Error("broken"));
    await told;
    calls[1]!.resolve("late");
    await turn();
    expect(calls).toHaveLength(2);
  });

  it("keeps what was done when it is stopped, where that is asked for", async () => {
    const { runner, calls } = scripted(1);
    const context: Context = { progress: () => {}, pool: runner };
    const some = spreadReached("unfoldShell", inputs(3), [3, 2, 1], context, () => {});
    calls[0]!.resolve("zero");
    await turn();
    calls[1]!.reject(new Stopped("Stopped."));
    const { out, stopped } = await some;
    expect(out).toEqual(["zero", undefined, undefined]);
    expect(stopped).toBeInstanceOf(Stopped);
    const none = spread("unfoldShell", inputs(1), [1], context, () => {});
    calls.at(-1)!.reject(new Stopped("Stopped."));
    await expect(none).rejects.toThrow(Stopped);
  });
});

describe("drafting shapes", () => {
  const meshOf = (s: Shape): PolyMesh => meshFromPolygons(s.points.flat(), s.faces);
  const input = (mesh: PolyMesh) => ({
    mesh,
    world: mesh.positions,
    cost: seamCosts(mesh, mesh.positions),
    angle: 1,
    limit: 1.06,
  });
  const root = meshOf(box([3, 2, 1], [27, 27, 27]));
  const small = [
    meshOf(box([1, 1, 1], [2, 2, 2])),
    meshOf(
      lathe(
        [
          [1, 0],
          [1.1, 2],
        ],
        12,
      ),
    ),
  ];

  it("goes by whole shapes where they are small, by pieces where one is large, and comes to the same", async () => {
    expect(faceCount(root)).toBeGreaterThan(4000);
    const list = [small[0]!, root, small[1]!].map(input);
    const names: string[] = [];
    const shares: number[] = [];
    const two: TaskRunner = {
      width: 2,
      run: (name, task, progress) => {
        names.push(name);
        return inlineRunner.run(name, task, progress);
      },
    };
    const spreadOut = await draftShapes(list, { progress: () => {}, pool: two }, (s) => shares.push(s));
    expect(names.filter((n) => n === "draftShape")).toHaveLength(2);
    expect(names.filter((n) => n === "draftPiece").length).toBeGreaterThan(5);
    const alone = await draftShapes(list, { progress: () => {} }, () => {});
    expect(spreadOut).toEqual(alone);
    expect(Math.max(...shares)).toBeLessThanOrEqual(1);
    expect(shares.at(-1)!).toBeGreaterThan(0.9);
  }, 60_000);

  it("stops with all its pieces when it is told to", async () => {
    let tasks = 0;
    const stopping: TaskRunner = {
      width: 2,
      run: (name, task, progress) =>
        ++tasks > 3 ? Promise.reject(new Stopped("Stopped.")) : inlineRunner.run(name, task, progress),
    };
    await expect(draftShapes([input(root)], { progress: () => {}, pool: stopping }, () => {})).rejects.toThrow(Stopped);
    await turn();
    const after = tasks;
    await turn();
    expect(tasks).toBe(after);
  });
});
