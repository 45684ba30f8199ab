import { UserError } from "@/core/layout/user-error";
import type { Scope } from "@/core/operations/operation";
import { parseOptions, pullPoints } from "@/core/operations/registry";
import type { BenchSession } from "./bench-session";
import { type LiveMove, liveMove } from "./live-move";
import { say } from "./say";

/** Begins work under the pointer; null where there is nothing to work on. @param more options that go with everything asked */
export async function beginLive<Input extends object>(
  session: BenchSession,
  operation: string,
  scope: Scope,
  more: object,
): Promise<LiveMove<Input> | null> {
  const { bench } = session;
  // Edits and undos on their way come first: what is begun before them would be of a document that is no more.
  await session.settled();
  const number = await session
    .lookUp((remote, revision) => remote.begin(revision, operation, scope))
    .catch((error: Error) => {
      if (error instanceof UserError) say(bench, error.message, "refused");
      return null;
    });
  if (number === null) return null;
  return liveMove({
    remote: () => session.remote,
    session: number,
    more,
    isClosed: () => session.isClosed,
    bench,
    commit(input) {
      if (operation !== pullPoints.id) return session.commitLive(number, operation, { ...input, ...more }, scope);
      // The step itself is an edit like any other: it takes longer than what follows the pointer.
      void session.remote.drop(number);
      return session.edit(pullPoints.title, operation, parseOptions(pullPoints, input) as object, scope);
    },
    dropped: () => session.measure(),
  });
}
