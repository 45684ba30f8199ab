import type { BrushWay } from "@/core/layout/stroke";
import { parseOptions, relaxStroke } from "@/core/operations/registry";
import type { Bench, BenchState } from "./store";

/** How the relax brush works on what it is drawn over. */
export interface BrushOptions {
  readonly strength: number;
  readonly way: BrushWay;
}

export function brushOf({ options }: Pick<BenchState, "options">): BrushOptions {
  const { strength, way } = parseOptions(relaxStroke, options[relaxStroke.id] ?? {}) as BrushOptions;
  return { strength, way };
}

export function setBrush(bench: Bench, change: Partial<BrushOptions>): void {
  const { options } = bench.getState();
  bench.setState({ options: { ...options, [relaxStroke.id]: { ...options[relaxStroke.id], ...change } } });
}
