import { describe, expect, it, vi } from "vitest";
import { paperLantern } from "../../demo/models/paper-lantern";
import { measure } from "../core/check/measure";
import { type Asset, shapesOf } from "../core/layout/asset";
import { withDelta } from "../core/layout/delta";
import { shellName, structureOf } from "../core/layout/layout";
import { UserError } from "../core/layout/user-error";
import type { Shell } from "../core/mesh/indices";
import { type Scope, Stopped } from "../core/operations/operation";
import { OPERATIONS } from "../core/operations/registry";
import { everything } from "../core/operations/scope";
import { edit as editAsset, laidOut, laidOutModel, picking } from "../testing/assets";
import { DocumentHost } from "./host";
import { StopFlag } from "./stop-flag";

const handle = { flag: null };
const points = (asset: Asset) => shapesOf(asset).map((s) => [...s.layouts.values()].map((l) => [...l.uv]));

describe("the document's host", () => {
  it("answers deltas that lead the page to what it holds itself", async () => {
    const host = new DocumentHost(null);
    const before = paperLantern();
    let { revision, asset } = host.load(before);
    for (const [op, options] of [
      ["creased", { angle: 40 }],
      ["open-up", {}],
      ["unfold", { passes: 1 }],
    ] as const) {
      const edited = await host.edit(revision, op, options, everything(asset), handle);
      expect(edited.revision).toBe(revision + 1);
      ({ revision } = edited);
      asset = withDelta(asset, edited.delta);
    }
    expect(points(asset)).toEqual(points(await laidOut(before)));
    await expect(host.edit(revision - 1, "unfold", {}, everything(asset), handle)).rejects.toThrow(/is at revision 3/);
  });

  it("stays as it was when an edit fails or is stopped, and goes on", async () => {
    const host = new DocumentHost(null);
    const { revision, asset } = host.load(await laidOutModel(paperLantern));
    await expect(host.edit(revision, "no-such", {}, everything(asset), handle)).rejects.toThrow();
    await expect(host.edit(revision, "pack", { padding: -1 }, everything(asset), handle)).rejects.toThrow(/padding/);
    const flag = new StopFlag();
    flag.raise();
    await expect(host.edit(revision, "draft", {}, everything(asset), { flag: flag.shared })).rejects.toThrow(Stopped);
    const level = await host.edit(revision, "level", {}, everything(asset), handle);
    expect(level.revision).toBe(revision + 1);
  });

  it("puts nothing on the table once it was told to stop, whichever edit it is", async () => {
    const host = new DocumentHost(null);
    const { revision, asset } = host.load(await laidOutModel(paperLantern));
    const flag = new StopFlag();
    flag.raise();
    const all = everything(asset);
    const first = shapesOf(asset)[0]!.id;
    for (const op of OPERATIONS.filter((o) => o.kind === "edit")) {
      const kind = op.acts === "edges" ? "edges" : "shells";
      const scope =
        op.acts === "parts" ? all : { ...all, selection: { kind, items: new Map([[first, Uint32Array.of(0)]]) } };
      const answer = host.edit(revision, op.id, {}, scope as Scope, { flag: flag.shared });
      // What refuses by itself, for want of a fault to mend or a file, has done nothing either.
      await expect(answer, op.id).rejects.toSatisfy((e: Error) => e instanceof Stopped || e instanceof UserError);
    }
    expect((await host.edit(revision, "level", {}, all, handle)).revision).toBe(revision + 1);
  });

  it("shows what an edit has come to one at a time, and none before the last was seen", async () => {
    // Every look at the clock is a long time after the one before: there is always something to be shown.
    let clock = 0;
    const now = vi.spyOn(performance, "now").mockImplementation(() => {
      clock += 1000;
      return clock;
    });
    try {
      const host = new DocumentHost(null);
      const opened = host.load(await laidOutModel(paperLantern));
      const { asset } = opened;
      let { revision } = opened;
      const relaxed = async (seen: () => Promise<void>): Promise<number> => {
        let shown = 0;
        const show = (list: ReadonlyArray<readonly [string, Float64Array]>) => {
          for (const [id, uv] of list)
            expect(uv.length).toBe([...asset.shapes.get(id)!.layouts.values()][0]!.uv.length);
          shown++;
          return seen();
        };
        const rest = [handle, undefined, undefined, show] as const;
        ({ revision } = await host.edit(revision, "relax", {}, everything(asset), ...rest));
        return shown;
      };
      expect(await relaxed(async () => {})).toBeGreaterThan(1);
      expect(await relaxed(() => new Promise(() => {}))).toBe(1);
    } finally {
      now.mockRestore();
    }
  });

  it("takes edits back that the database refused", async () => {
    const host = new DocumentHost(null);
    const { revision, asset } = host.load(await laidOutModel(paperLantern));
    const first = await host.edit(revision, "level", {}, everything(asset), handle);
    await host.edit(first.revision, "clear-set", {}, everything(withDelta(asset, first.delta)), handle);
    host.rollBack(revision);
    const again = await host.edit(revision, "level", {}, everything(asset), handle);
    expect(points(withDelta(asset, again.delta))).toEqual(points(withDelta(asset, first.delta)));
  });

  it("previews a move without keeping it, makes one step of it, and drops it", async () => {
    const host = new DocumentHost(null);
    const { revision, asset } = host.load(await laidOutModel(paperLantern));
    const shape = shapesOf(asset)[0]!;
    const layout = [...shape.layouts.values()][0]!;
    const scope = picking(asset, "shells", [shellName(structureOf(shape.mesh, layout), 0 as Shell)]);
    const motion = (du: number) => ({ du, dv: 0, turn: 0, scale: 1 });
    const dropped = await host.begin(revision, "move", scope);
    host.update(dropped, motion(0.5));
    host.drop(dropped);
    const live = await host.begin(revision, "move", scope);
    // Figures follow as well, once the document was measured: before that it would take long.
    expect(await host.figures(live, motion(0.1), "area")).toBeNull();
    await host.measure(revision, asset.sets[0]!.id, "area");
    for (const du of [0.1, 0.2, 0.25]) {
      const preview = withDelta(asset, host.update(live, motion(du)));
      expect(points(preview)).not.toEqual(points(asset));
    }
    const followed = await host.figures(live, motion(0.25), "area");
    const done = await host.commit(live, motion(0.25));
    expect(done.revision).toBe(revision + 1);
    expect(followed!.measures).toEqual(measure(withDelta(asset, done.delta)));
    const once = await editAsset(asset, "move", motion(0.25), scope);
    expect(points(withDelta(asset, done.delta))).toEqual(points(once));
  });

  it("measures after every edit what measuring anew would tell, and lets the latest win", async () => {
    const host = new DocumentHost(null);
    const opened = host.load(await laidOutModel(paperLantern));
    const set = opened.asset.sets[0]!.id;
    await host.measure(opened.revision, set, "area");
    const shape = shapesOf(opened.asset)[0]!;
    const layout = [...shape.layouts.values()][0]!;
    const scope = picking(opened.asset, "shells", [shellName(structureOf(shape.mesh, layout), 0 as Shell)]);
    const moved = await host.edit(opened.revision, "move", { du: 0.3, turn: 30 }, scope, handle);
    const overtaken = host.measure(moved.revision, set, "area").catch((e: Error) => e);
    const { measures } = await host.measure(moved.revision, set, "area");
    expect(await overtaken).toBeInstanceOf(Stopped);
    expect(measures).toEqual(measure(withDelta(opened.asset, moved.delta), 2048, set));
  });
});
