import type { ShapeId } from "@/core/layout/asset";
import { movePoints, parseOptions } from "@/core/operations/registry";
import type { Falloff, Weights } from "@/core/select/falloff";
import type { BenchSession } from "./bench-session";
import { type Bench, type BenchState, scopeNow } from "./store";

/** The falloff that points are moved with: the options of the card. */
export function falloffOf({ options }: Pick<BenchState, "options">): Falloff {
  const { radius, curve } = parseOptions(movePoints, options[movePoints.id] ?? {}) as Falloff;
  return { radius, curve };
}

/** The least radius that keys make of none, and the largest, in tiles. */
const [LEAST, MOST] = [1 / 64, 2];

/** Makes the falloff wider or narrower; below the least there is none. */
export function resizeFalloff(bench: Bench, by: number): void {
  const { options } = bench.getState();
  const { radius } = falloffOf({ options });
  const next = radius ? Math.min(MOST, radius * by) : by > 1 ? LEAST : 0;
  setFalloff(bench, { radius: next < LEAST ? 0 : next });
}

export function setFalloff(bench: Bench, change: Partial<Falloff>): void {
  const { options } = bench.getState();
  bench.setState({ options: { ...options, [movePoints.id]: { ...options[movePoints.id], ...change } } });
}

const NONE: BenchState["weights"] = new Map();

/** Shows how much of an edit each point takes, or no longer. */
export async function showWeights(session: BenchSession, on: boolean): Promise<void> {
  const { bench } = session;
  const state = bench.getState();
  const falloff = falloffOf(state);
  if (!on || !state.asset || state.kind !== "points" || !state.picked.size || !falloff.radius) {
    if (state.weights.size) bench.setState({ weights: NONE });
    return;
  }
  const scope = scopeNow(state, movePoints);
  const found = await session.lookUp((remote, revision) => remote.weights(revision, scope, falloff)).catch(() => null);
  if (bench.getState().picked !== state.picked || bench.getState().options !== state.options) return;
  bench.setState({ weights: new Map<ShapeId, Weights>((found ?? []).map((w) => [w.shape, w])) });
}
