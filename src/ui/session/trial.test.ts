import { beforeEach, describe, expect, it } from "vitest";
import { DocumentHost } from "@/compute/host";
import { shapesOf } from "@/core/layout/asset";
import { Stopped } from "@/core/operations/operation";
import { operationById } from "@/core/operations/registry";
import { ElementSet } from "@/core/select/element-set";
import { laidOutModel } from "@/testing/assets";
import { pepperMill } from "../../../demo/models/pepper-mill";
import type { BenchSession } from "./bench-session";
import { type Bench, newBench } from "./store";
import { Trials } from "./trial";

/** A bench over the real host; trials are answered one by one, when they are let go. */
async function table() {
  const host = new DocumentHost(null);
  const { asset, revision } = host.load(await laidOutModel(pepperMill));
  const bench: Bench = newBench();
  const shape = shapesOf(asset)[0]!;
  const faces = shape.mesh.faceStart.length - 1;
  const picked = new Map([
    [
      shape.id,
      ElementSet.of(
        faces,
        Uint32Array.from({ length: faces }, (_, f) => f),
      ),
    ],
  ]);
  bench.setState({ asset, set: "s1", kind: "faces", picked });
  const asked: unknown[] = [];
  const waiting: Array<() => void> = [];
  const remote = {
    async tryOut(...args: Parameters<DocumentHost["tryOut"]>) {
      asked.push(args[2]);
      await new Promise<void>((resolve) => waiting.push(resolve));
      return host.tryOut(...args);
    },
  };
  let last: Promise<unknown> = Promise.resolve();
  const session = {
    bench,
    lookUp: <T>(ask: (r: typeof remote, at: number) => Promise<T>): Promise<T | null> => {
      const found = ask(remote, revision).catch((error: Error) => {
        if (error instanceof Stopped) return null;
        throw error;
      });
      last = found.catch(() => {});
      return found;
    },
  };
  const letGo = async () => {
    const own = last;
    waiting.shift()!();
    await own;
    // What stands behind the answer is done in the same turn.
    await new Promise((resolve) => setTimeout(resolve));
  };
  return { bench, session: session as unknown as BenchSession, asked, waiting, letGo };
}

describe("a trial", () => {
  let own: Awaited<ReturnType<typeof table>>;
  let told: string[];
  const project = operationById("project");
  const set = (kind: string) => own.bench.setState({ options: { project: { kind } } });
  beforeEach(async () => {
    own = await table();
    told = [];
  });
  const trials = () => new Trials(own.session, project, (words) => told.push(words));

  it("draws what an edit would come to, tells it, and changes nothing", async () => {
    const before = own.bench.getState().asset;
    set("box");
    trials().ask();
    await own.letGo();
    expect(told).toEqual([expect.stringMatching(/^Project 322 faces as box: /)]);
    const { trial, asset } = own.bench.getState();
    expect(trial!.operation).toBe("project");
    expect(trial!.borders.length).toBeGreaterThan(16);
    expect(trial!.stands!.kind).toBe("box");
    expect(asset).toBe(before);
  });

  it("waits while one is under way, and then tries the newest only", async () => {
    const all = trials();
    set("box");
    all.ask();
    for (const kind of ["disc", "sphere", "cylinder"]) {
      set(kind);
      all.ask();
    }
    expect(own.asked).toEqual([{ kind: "box" }]);
    await own.letGo();
    await own.letGo();
    expect(own.asked).toEqual([{ kind: "box" }, { kind: "cylinder" }]);
    expect(own.waiting.length).toBe(0);
    expect(own.bench.getState().trial!.stands!.kind).toBe("cylinder");
  });

  it("leaves nothing drawn when it ends, not even what comes afterwards", async () => {
    const all = trials();
    set("box");
    all.ask();
    all.end();
    await own.letGo();
    expect(told).toEqual([]);
    expect(own.bench.getState().trial).toBeNull();
    const next = trials();
    next.ask();
    await own.letGo();
    expect(own.bench.getState().trial).not.toBeNull();
    next.clear();
    expect(own.bench.getState().trial).toBeNull();
  });

  it("tells in a sentence why an edit could not be done, and draws nothing", async () => {
    own.bench.setState({ options: { project: { kind: "disc", capsFrom: 120 } } });
    trials().ask();
    await own.letGo();
    expect(told).toEqual([expect.stringMatching(/^Project: capsFrom must be at most 85\.$/)]);
    expect(own.bench.getState().trial).toBeNull();
  });
});
