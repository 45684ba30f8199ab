import type { DocumentWorker } from "@/compute/document";
import { summaryOf } from "@/core/check/summary";
import type { ShapeId } from "@/core/layout/asset";
import type { Bench, Motion } from "./store";

/** A live move: shells follow what the pointer does, and nothing is kept until they are let go. */
export interface LiveMove<Input extends object = Motion> {
  update(input: Input): void;
  commit(input: Input): Promise<void>;
  drop(): void;
  /** Whether something that was asked for is not shown yet. */
  isBusy(): boolean;
}

/** Milliseconds between figures while shells follow the pointer. */
const FIGURES_EVERY = 100;

interface Work<Input> {
  remote(): DocumentWorker["remote"];
  /** What the document's host knows the work by. */
  readonly session: number;
  /** Options that go with every motion. */
  readonly more: object;
  /** Where it is shown, for as long as that is not closed. */
  readonly bench: Bench;
  isClosed(): boolean;
  /** Makes one step of it. */
  commit(input: Input): Promise<void>;
  dropped(): void;
}

/** Shows a motion as it is where what is moved keeps to something. */
function showMotion(bench: Bench, motion: Pick<Motion, "du" | "dv">): void {
  bench.setState(({ overlay }) =>
    overlay?.shape.kind === "motion"
      ? { overlay: { ...overlay, shape: { kind: "motion", motion: { ...overlay.shape.motion, ...motion } } } }
      : {},
  );
}

/** Lets shells follow the pointer as fast as the host answers, the newest motion first, with their figures behind them. */
export function liveMove<Input extends object>(work: Work<Input>): LiveMove<Input> {
  const { remote, session, more, bench, isClosed, commit, dropped } = work;
  const show: Bench["setState"] = (part) => {
    if (!isClosed()) bench.setState(part);
  };
  let busy = false;
  let ended = false;
  let lastFigures = 0;
  let next: Input | null = null;
  const figures = async (motion: Input) => {
    // They follow a few times a second, and the last of them when the pointer rests.
    if (performance.now() - lastFigures < FIGURES_EVERY && next) return;
    lastFigures = performance.now();
    const { stretchKind } = bench.getState();
    const found = await remote()
      .figures(session, { ...motion, ...more }, stretchKind)
      .catch(() => null);
    if (found && !ended && found.set === bench.getState().set)
      show({ measures: found.measures, summary: summaryOf(found.measures) });
  };
  const follow = async () => {
    busy = true;
    while (next && !isClosed()) {
      const motion: Input = next;
      next = null;
      const preview = await remote()
        .update(session, { ...motion, ...more })
        .catch(() => null);
      // The pointer rests, and shells are still on their way to it.
      if (preview?.unsettled && !next && !ended) next = motion;
      if (preview?.motion && !ended) showMotion(bench, preview.motion);
      if (preview && !ended) show({ live: new Map(preview.layouts.map((l) => [l.shape, l.layout!.uv])) });
      await figures(motion);
    }
    busy = false;
  };
  const end = () => {
    ended = true;
    next = null;
  };
  const still = () => show({ live: new Map<ShapeId, Float64Array>() });
  return {
    isBusy: () => busy,
    update(motion) {
      next = motion;
      if (!busy) void follow();
    },
    commit(motion) {
      end();
      return commit(motion).finally(still);
    },
    drop() {
      end();
      void remote()
        .drop(session)
        .catch(() => {});
      still();
      dropped();
    },
  };
}
