import { placedShape } from "@/core/layout/asset";
import { UserError } from "@/core/layout/user-error";
import { ElementSet } from "@/core/select/element-set";
import { elementCount } from "@/core/select/grow";
import type { BenchSession } from "./bench-session";
import { say } from "./say";
import { pickMany, setKind } from "./selection";
import { type Bench, EMPTY, type Stop, type Thread } from "./store";

const pathTo = (session: BenchSession, from: Stop, to: number): Promise<Uint32Array | null> => {
  const { threadWay } = session.bench.getState();
  return session.lookUp((remote, revision) => remote.path(revision, from.shape, threadWay, from.vertex, to));
};

function show(bench: Bench, thread: Thread | null, ahead: Iterable<number> = []): void {
  const { asset } = bench.getState();
  if (!thread || !asset) {
    bench.setState({ thread, preview: EMPTY });
    return;
  }
  const edges = ElementSet.of(elementCount(placedShape(asset, thread.shape).mesh, "edges"), [
    ...thread.pieces.flatMap((p) => p ?? []),
    ...ahead,
  ]);
  bench.setState({ thread, preview: edges.size ? new Map([[thread.shape, edges]]) : EMPTY });
}

const lastOf = ({ shape, stops }: Thread): Stop => ({ shape, vertex: stops.at(-1)! });

/** Shows the path that a click would add, as soon as it is found; the newest question counts. */
export async function pointThread(session: BenchSession, at: Stop | null): Promise<void> {
  const { bench } = session;
  const before = bench.getState().threadAt;
  if (before?.shape === at?.shape && before?.vertex === at?.vertex) return;
  bench.setState({ threadAt: at });
  const { thread } = bench.getState();
  if (!thread) return;
  const goesOn = at && at.shape === thread.shape && at.vertex !== thread.stops.at(-1);
  const ahead = goesOn ? await pathTo(session, lastOf(thread), at.vertex).catch(() => null) : null;
  const now = bench.getState();
  if (now.thread && now.threadAt === at && now.thread.stops.at(-1) === thread.stops.at(-1))
    show(bench, now.thread, ahead ?? []);
}

/**
 * Lays the thread on to a vertex.
 *
 * @returns edges that are to be cut, where the thread cuts as it goes: it begins anew at the vertex then
 * @throws UserError where it cannot go on to it
 */
export async function layThread(session: BenchSession, at: Stop): Promise<Uint32Array | null> {
  const { bench } = session;
  const { thread } = bench.getState();
  const begin = () => show(bench, { shape: at.shape, stops: [at.vertex], pieces: [], keeping: false });
  if (!thread) {
    begin();
    return null;
  }
  if (thread.shape !== at.shape)
    throw new UserError("The thread stays on one part. Enter keeps it, and the next begins on another.");
  if (thread.stops.at(-1) === at.vertex) return null;
  const place = thread.pieces.length;
  show(bench, { ...thread, stops: [...thread.stops, at.vertex], pieces: [...thread.pieces, null] });
  const found = await pathTo(session, lastOf(thread), at.vertex).catch(() => null);
  const now = bench.getState().thread;
  if (now?.shape !== at.shape || now.stops[place + 1] !== at.vertex || now.pieces[place] !== null) return null;
  if (!found) {
    show(bench, { ...now, stops: now.stops.slice(0, place + 1), pieces: now.pieces.slice(0, place), keeping: false });
    throw new UserError("No path along edges leads there.");
  }
  if (bench.getState().threadCuts) {
    begin();
    return found;
  }
  const laid = { ...now, pieces: now.pieces.map((p, i) => (i === place ? [...found] : p)) };
  show(bench, laid);
  if (now.keeping) keepThread(bench);
  return null;
}

/** Takes the last piece back; the first stop goes last. */
export function takeBackThread(bench: Bench): void {
  const { thread } = bench.getState();
  if (!thread) return;
  const stops = thread.stops.slice(0, -1);
  show(bench, stops.length ? { ...thread, stops, pieces: thread.pieces.slice(0, -1) } : null);
}

/** Picks what was laid, beside what is picked. */
export function keepThread(bench: Bench): void {
  const { thread } = bench.getState();
  if (!thread) return;
  if (thread.pieces.includes(null)) {
    bench.setState({ thread: { ...thread, keeping: true } });
    return;
  }
  dropThread(bench);
  const edges = thread.pieces.flatMap((p) => p ?? []);
  if (!edges.length) return;
  setKind(bench, "edges");
  pickMany(bench, new Map([[thread.shape, edges]]), "add");
  say(bench, `The thread is picked: ${new Set(edges).size} edges.`);
}

export const dropThread = (bench: Bench): void => bench.setState({ thread: null, threadAt: null, preview: EMPTY });
