import { describe, expect, it } from "vitest";
import { assemble, box } from "../../../demo/kit";
import { gingerRoot } from "../../../demo/models/ginger-root";
import { paperLantern } from "../../../demo/models/paper-lantern";
import { edit, laidOut, laidOutModel, quiet } from "../../testing/assets";
import { measure } from "../check/measure";
import { checkAsset } from "../formats/asset-json";
import { type Asset, shapesOf } from "../layout/asset";
import { deltaBetween } from "../layout/delta";
import { inlineRunner } from "../tasks/inline-runner";
import type { TaskRunner } from "../tasks/task-runner";
import { Stopped } from "./operation";
import { runEdit } from "./run";
import { everything } from "./scope";

// Told to stop, some work keeps what was reached by then: shells that are unfolded, the best places found so far.

/** A context that is told to stop at the nth word of progress; and how many words there were. */
function stoppingAt(n: number) {
  let told = 0;
  const look = () => {
    if (++told > n) throw new Stopped("Stopped.");
  };
  return { context: { progress: look, check: look, pool: inlineRunner }, told: () => told };
}
const quick = { search: "quick" };
const run = (asset: Asset, id: string, n: number, options: object = {}) =>
  runEdit(asset, id, options, everything(asset), stoppingAt(n).context);

describe("work that is told to stop", () => {
  it("unfolds the shells it came to and leaves the others as they were", async () => {
    const asset = await laidOutModel(paperLantern);
    const shells = shapesOf(asset).length;
    expect(shells).toBeGreaterThan(2);
    /** A pool whose workers end what they do by themselves, as its own do: the signal comes after two shells. */
    let done = 0;
    const pool: TaskRunner = {
      width: 1,
      run: (name, input) => (done++ === 2 ? Promise.reject(new Stopped("Stopped.")) : inlineRunner.run(name, input)),
    };
    const { asset: after, result } = await runEdit(asset, "unfold", {}, everything(asset), { ...quiet, pool });
    checkAsset(after);
    expect(result).toMatchObject({ stopped: true });
    expect(result.words).toMatch(/^Unfold 2 of \d+ shells, stopped early: angles off by \d.*%$/);
    expect(deltaBetween(asset, after).layouts.length).toBeLessThan(shells);
    expect(measure(after).flippedTriangles).toBe(0);
  });

  it("keeps the map that a shell has come to, without a flip, and goes on from there later", async () => {
    const root = await edit(await edit(gingerRoot(0.6), "open-up"), "unfold", { passes: 0 });
    const [conformal, whole] = [measure(root), measure(await edit(root, "unfold", { passes: 20 }))];
    const { told } = await (async () => {
      const counted = stoppingAt(1e9);
      await runEdit(root, "unfold", { passes: 20 }, everything(root), counted.context);
      return counted;
    })();
    const { asset, result } = await run(root, "unfold", Math.floor(told() / 3), { passes: 20 });
    const reached = measure(asset);
    expect(result.stopped).toBe(true);
    expect(reached.flippedTriangles).toBe(0);
    expect(reached.symmetricDirichlet!).toBeLessThan(conformal.symmetricDirichlet!);
    expect(reached.symmetricDirichlet!).toBeGreaterThan(whole.symmetricDirichlet!);
  });

  it("packs as well as it had found by then, and not at all when it had found nothing", async () => {
    const crates = [1, 2, 3, 5].map((n) => ({ name: `Crate ${n}`, shape: box([n, 2, 1], [1, 1, 1]) }));
    const asset = await laidOut(assemble("Crates", "cm", [], crates));
    const counted = stoppingAt(1e9);
    const whole = (await runEdit(asset, "pack", quick, everything(asset), counted.context)).asset;
    await expect(run(asset, "pack", 0, quick)).rejects.toThrow(Stopped);
    let before = 0;
    let kept = 0;
    for (const share of [0.25, 0.5, 0.8, 0.97]) {
      const outcome = await run(asset, "pack", Math.floor(share * counted.told()), quick).catch((e: Error) => e);
      if (outcome instanceof Error) {
        expect(outcome).toBeInstanceOf(Stopped);
        expect(kept, "what was reached is not lost again").toBe(0);
        continue;
      }
      kept++;
      const m = measure(outcome.asset);
      expect(outcome.result).toMatchObject({ stopped: true });
      expect(m.overlapShare).toBe(0);
      expect(m.shellGapPx!).toBeGreaterThanOrEqual(8 - 1e-6);
      expect(m.outOfBoundsTriangles).toBe(0);
      expect(m.coverage!).toBeGreaterThanOrEqual(before - 1e-12);
      before = m.coverage!;
    }
    expect(kept).toBeGreaterThan(1);
    expect(measure(whole).coverage!).toBeGreaterThanOrEqual(before - 1e-12);
  });

  it("changes nothing where a part of it would be worth nothing", async () => {
    const asset = await laidOutModel(paperLantern);
    await expect(run(asset, "draft", 0)).rejects.toThrow(Stopped);
    await expect(run(asset, "draft", 12)).rejects.toThrow(Stopped);
  });
});
