import type { FileIn } from "@/core/formats/read-options";
import type { ShapeId } from "@/core/layout/asset";
import { getBit } from "@/core/layout/bits";
import { UserError } from "@/core/layout/user-error";
import type { Edge } from "@/core/mesh/indices";
import { edgeFaceCount, topologyOf } from "@/core/mesh/topology";
import type { AnyOperation, Scope } from "@/core/operations/operation";
import { cut, move, movePoints, pullPoints, relaxStroke, unfold } from "@/core/operations/registry";
import { layoutOf } from "@/core/operations/scope";
import { ElementSet } from "@/core/select/element-set";
import { beginLive } from "./begin-live";
import type { BenchSession } from "./bench-session";
import { brushOf } from "./brush";
import { falloffOf } from "./falloff";
import type { LiveMove } from "./live-move";
import { keepLooks } from "./looks";
import { fetchFiles, fetchHistory, fetchSteps, sendMark, takeNumber } from "./remote";
import { numbersFiles, saveFiles } from "./save-files";
import { say } from "./say";
import { frameSelection } from "./selection";
import { type BenchState, scopeNow } from "./store";

export { say };

/** Faces beyond which wires are off until they are asked for. */
const FINE = 300_000;

/** Sessions that were left with something still on its way to the database. */
const leaving = new Set<Promise<void>>();

/** Fills a session with its asset, as it is when all that was left behind has arrived. */
export async function openSession(session: BenchSession): Promise<void> {
  await Promise.all(leaving);
  if (!session.isClosed) await session.open(FINE);
}

/** Leaves a session; what is still on its way to the database gets there. */
export function leaveSession(session: BenchSession): void {
  keepLooks(session.bench.getState());
  const left = session.close().finally(() => leaving.delete(left));
  leaving.add(left);
}

/** Whether leaving the page now would lose something that is not in the database yet. */
export const isUnsaved = (session: BenchSession | null): boolean => leaving.size > 0 || (session?.isUnsaved ?? false);

/** Runs an edit, a pick or an export, on what is picked or everything visible. */
export async function runOperation(
  session: BenchSession,
  op: AnyOperation,
  extra: Readonly<Record<string, unknown>> = {},
  files?: readonly FileIn[],
): Promise<void> {
  const { id } = op;
  const { bench } = session;
  const state = bench.getState();
  if (!state.asset) return;
  const [x, y, z] = state.eye?.() ?? [];
  const options = {
    ...state.options[id],
    ...op.given,
    ...(op.takesEye && x !== undefined ? { x, y, z } : {}),
    ...extra,
  };
  const scope = scopeNow(state, op);
  bench.setState({ message: null });
  if (op.kind === "select")
    return session.select(op.title, id, options, scope, op.near ? () => {} : () => frameSelection(bench));
  if (op.kind === "export") return exportFiles(session, op, options);
  if (op.kind === "measure") return session.measure(() => say(bench, "Measured; the figures are under Check."));
  if (op.big) void markBefore(session, op.title);
  await session.edit(op.title, id, options, scope, files);
  if (op.id === cut.id) await unfoldCut(session, state, scope);
}

/** Unfolds the shells of what was cut, where that is wished for: a refused cut has left nothing to unfold. */
async function unfoldCut(session: BenchSession, before: BenchState, scope: Scope): Promise<void> {
  const { asset, unfoldsAlong, message } = session.bench.getState();
  if (!unfoldsAlong || asset === before.asset || message?.tone === "refused") return;
  const options = { ...before.options[unfold.id], ...unfold.given, what: "shells" };
  await session.edit(unfold.title, unfold.id, options, scope);
}

/** Cuts some edges of a shape, whatever is picked. Those that are seams or borders already are left out. */
export async function cutEdges(session: BenchSession, id: ShapeId, edges: Uint32Array): Promise<void> {
  const state = session.bench.getState();
  const shape = state.asset?.shapes.get(id);
  if (!shape) return;
  const t = topologyOf(shape.mesh);
  const { cut: bits } = layoutOf(shape, state.set);
  const fresh = edges.filter((e) => edgeFaceCount(t, e as Edge) === 2 && !getBit(bits, e));
  if (!fresh.length) return;
  const scope = scopeNow({ ...state, kind: "edges", picked: new Map([[id, ElementSet.of(t.edgeCount, fresh)]]) }, cut);
  await session.edit(cut.title, cut.id, {}, scope);
  await unfoldCut(session, state, scope);
}

async function exportFiles(session: BenchSession, op: AnyOperation, options: unknown): Promise<void> {
  const { bench } = session;
  const state = bench.getState();
  const asset = state.asset!;
  try {
    const fetched = asset.source.key || asset.images.length ? await fetchFiles(asset.id) : {};
    // What an edit made may not be saved yet.
    const files = { ...fetched, ...asset.files };
    const name = numbersFiles() ? `${asset.name}_v${String(await takeNumber(asset.id)).padStart(3, "0")}` : asset.name;
    await session.export(op, options, scopeNow(state, op), { files, name }, async (written) => {
      await saveFiles(written.files);
      const wrote = `Wrote ${written.files.map((f) => f.name).join(" and ")}.`;
      say(bench, [wrote, ...written.warnings].join(" "), written.warnings.length ? "warning" : "info");
    });
  } catch (error) {
    say(bench, error instanceof Error ? error.message : String(error), "refused");
  }
}

/** An automatic mark before something big; a name of its own is for the person to give. */
async function markBefore(session: BenchSession, title: string): Promise<void> {
  const number = await session.savedStep().catch(() => 0);
  // What came with the file is there as the first step and needs no mark.
  if (number > 0) await sendMark(session.id, { name: `Before ${title}`, automatic: true, number }).catch(() => {});
}

/** Marks the step on the table, as soon as the server has it. */
export async function markStep(session: BenchSession, name: string, note: string): Promise<void> {
  await sendMark(session.id, { name, note, number: await session.savedStep() });
}

/** Looks again for faults of the meshes that hinder UV work. */
export async function refreshFaults(session: BenchSession): Promise<void> {
  const { bench } = session;
  try {
    const faults = await session.lookUp((remote, revision) => remote.faults(revision));
    if (faults) bench.setState({ faults });
  } catch (error) {
    say(bench, `The report failed: ${(error as Error).message}`, "refused");
  }
}

/** Looks again which parts are alike; of no consequence when it fails. */
export async function refreshLikeness(session: BenchSession): Promise<void> {
  const alike = await session.lookUp((remote, revision) => remote.likeness(revision)).catch(() => null);
  if (alike) session.bench.setState({ alike });
}

/** Fetches steps and marks, when they are shown. */
export async function refreshPast(session: BenchSession): Promise<void> {
  const { bench } = session;
  const { asset, side } = bench.getState();
  if (!asset || side !== "history") return;
  try {
    const past = await fetchHistory(asset.id);
    if (!session.isClosed) bench.setState({ past });
  } catch (error) {
    if (error instanceof UserError) say(bench, error.message, "refused");
    else throw error;
  }
}

/** Saves the steps that led here as a file, which does them again on the command line. */
export async function saveSteps(session: BenchSession): Promise<void> {
  const { bench } = session;
  const { asset } = bench.getState();
  if (!asset) return;
  try {
    // The server writes them, and must have the last one.
    await session.savedStep();
    const name = `${asset.name} history.json`;
    await saveFiles([{ name, type: "application/json", bytes: await fetchSteps(asset.id) }]);
    say(bench, `Wrote ${name}. ./tavlin replay does these steps again on a file.`);
  } catch (error) {
    say(bench, error instanceof Error ? error.message : String(error), "refused");
  }
}

/** Goes to any step of the history; nothing that came after is lost. */
export async function jumpTo(session: BenchSession, number: number): Promise<void> {
  if (session.bench.getState().history?.head === number) return;
  await session.step({ to: number }, "Going there", () => `Now at step ${number}. Later steps are kept.`);
}

/** Steps back or forth; quick ones wait for each other. */
export async function stepBench(session: BenchSession, direction: "undo" | "redo"): Promise<void> {
  const undo = direction === "undo";
  await session.step(direction, undo ? "Undo" : "Redo", (h) => {
    const words = undo ? h.undo : h.redo;
    return words && `${undo ? "Undone" : "Redone"}: ${words}`;
  });
}

/** Begins to move the picked shells or points under the pointer; null when they cannot be moved. */
export async function beginMove(session: BenchSession, held: Held | null): Promise<LiveMove | null> {
  const state = session.bench.getState();
  if (!state.asset) return null;
  const [op, more] = state.kind === "points" ? [movePoints, falloffOf(state)] : [move, {}];
  const snap = held && state.snap !== "off" ? { snap: { ...held, to: state.snap } } : {};
  return beginLive(session, op.id, scopeNow(state, op), { ...more, ...snap });
}

/** Where on the sheet something was taken hold of, and how near it has to come to what it keeps to, in tiles. */
interface Held {
  readonly at: readonly [u: number, v: number];
  readonly within: number;
}

/** Begins to pull the picked points under the pointer; null when they cannot be pulled. */
export async function beginPull(session: BenchSession): Promise<LiveMove | null> {
  const state = session.bench.getState();
  return state.asset ? beginLive(session, pullPoints.id, scopeNow(state, pullPoints), {}) : null;
}

/** Begins a stroke of the relax brush; null when there is nothing to draw over. */
export async function beginRelax(session: BenchSession): Promise<LiveMove<{ readonly stroke: string }> | null> {
  const state = session.bench.getState();
  return state.asset ? beginLive(session, relaxStroke.id, scopeNow(state, relaxStroke), brushOf(state)) : null;
}

export const setOption = ({ bench }: BenchSession, operation: string, name: string, value: unknown): void => {
  const { options } = bench.getState();
  bench.setState({ options: { ...options, [operation]: { ...options[operation], [name]: value } } });
};
