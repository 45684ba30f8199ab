import { setOption } from "./actions";
import type { BenchSession } from "./bench-session";

/** A value that an option has for what is picked now, and the one that it has otherwise. */
interface Lent {
  readonly operation: string;
  readonly name: string;
  readonly value: unknown;
  readonly before: unknown;
}

const lent = new WeakMap<BenchSession, Lent>();

/** Sets an option of a card until something else is picked: what suits one form is not asked of the next. */
export function lendOption(session: BenchSession, operation: string, name: string, value: string): void {
  const now = session.bench.getState().options[operation]?.[name];
  const known = lent.get(session);
  const before = known?.operation === operation && known.value === now ? known.before : now;
  if (value !== now) lent.set(session, { operation, name, value, before });
  setOption(session, operation, name, value);
}

/** Gives an option back the value that it had, unless another was chosen since. */
export function giveBack(session: BenchSession): void {
  const own = lent.get(session);
  if (!own) return;
  lent.delete(session);
  const { operation, name, value, before } = own;
  if (session.bench.getState().options[operation]?.[name] === value) setOption(session, operation, name, before);
}
