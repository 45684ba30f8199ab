import { type BenchState, EMPTY } from "../session/store";

/** What the panes show of a state: while one looks back, the asset as it was before the last step, with nothing picked. */
export function seenState(state: BenchState): BenchState {
  const { peek, before } = state;
  if (!peek || !before) return state;
  return {
    ...state,
    asset: before.asset,
    stretch: before.stretch,
    picked: EMPTY,
    preview: EMPTY,
    hover: null,
    live: new Map(),
  };
}
