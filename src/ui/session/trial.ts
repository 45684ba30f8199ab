import { StopFlag } from "@/compute/stop-flag";
import { UserError } from "@/core/layout/user-error";
import type { AnyOperation } from "@/core/operations/operation";
import type { BenchSession } from "./bench-session";
import { scopeNow } from "./store";

/** Milliseconds for which nothing changes before it is tried what an edit would come to. */
const CALM = 60;

/**
 * Tries what an edit would come to on what is picked, with the options its card has, and draws that into the sheet. One that
 * is under way is stopped by the next, and by the end of it.
 *
 * @param tell what it came to, or why it cannot be done
 * @returns what ends it
 */
export function beginTrial(session: BenchSession, op: AnyOperation, tell: (words: string) => void): () => void {
  const { bench } = session;
  const flag = new StopFlag();
  const timer = setTimeout(() => {
    const state = bench.getState();
    const options = { ...state.options[op.id], ...op.given };
    session
      .lookUp((remote, revision) => remote.tryOut(revision, op.id, options, scopeNow(state, op), { flag: flag.shared }))
      .then(
        (found) => {
          if (!found || flag.isRaised) return;
          bench.setState({ trial: { operation: op.id, ...found } });
          tell(found.words);
        },
        (error: Error) => {
          if (flag.isRaised) return;
          bench.setState({ trial: null });
          tell(error instanceof UserError ? error.message : `It could not be tried: ${error.message}`);
        },
      );
  }, CALM);
  return () => {
    clearTimeout(timer);
    flag.raise();
    if (bench.getState().trial?.operation === op.id) bench.setState({ trial: null });
  };
}
