import type { FileIn } from "@/core/formats/read-options";
import type { UvSetId } from "@/core/layout/asset";
import { UserError } from "@/core/layout/user-error";
import type { AnyOperation } from "@/core/operations/operation";
import { move } from "@/core/operations/registry";
import { BenchSession } from "./bench-session";
import type { LiveMove } from "./live-move";
import { fetchFiles, fetchHistory, fetchSteps, sendMark, takeNumber } from "./remote";
import { numbersFiles, saveFiles } from "./save-files";
import { say } from "./say";
import { frameSelection } from "./selection";
import { scopeNow, useBench } from "./store";

export { say };

/** Faces beyond which wires are off until they are asked for. */
const FINE = 300_000;

/** The asset on the table. */
let session: BenchSession | null = null;
/** Sessions that were left with something still on its way to the database. */
const leaving = new Set<Promise<void>>();
const get = () => useBench.getState();

/** Puts an asset on the table. */
export async function openBench(id: string): Promise<void> {
  leave();
  const own = new BenchSession(id);
  session = own;
  useBench.setState({ ...useBench.getInitialState(), stage: get().stage, view: get().view });
  // What is opened has what was done before it was left.
  await Promise.all(leaving);
  if (session !== own) return;
  await own.open(FINE);
}

function leave(): void {
  if (!session) return;
  const left = session.close().finally(() => leaving.delete(left));
  leaving.add(left);
  session = null;
}

export function closeBench(): void {
  leave();
  useBench.setState(useBench.getInitialState());
}

/** Whether leaving now would lose something that is not in the database yet. */
export const isUnsaved = (): boolean => leaving.size > 0 || (session?.isUnsaved ?? false);

export const takeNewest = async (): Promise<void> => session?.takeNewest();

/** Runs an edit, a pick or an export, on what is picked or everything visible. */
export async function runOperation(
  op: AnyOperation,
  extra: Readonly<Record<string, unknown>> = {},
  files?: readonly FileIn[],
): Promise<void> {
  const { id } = op;
  const state = get();
  const own = session;
  if (!state.asset || !own) return;
  const options = { ...state.options[id], ...op.given, ...extra };
  const scope = scopeNow(state, op);
  useBench.setState({ message: null });
  if (op.kind === "select") return own.select(op.title, id, options, scope, op.near ? () => {} : frameSelection);
  if (op.kind === "export") return exportFiles(own, op, options);
  if (op.kind === "measure") return own.measure(() => say("Measured; the figures are under Check."));
  if (op.big) await markBefore(op.title);
  return own.edit(op.title, id, options, scope, files);
}

async function exportFiles(own: BenchSession, op: AnyOperation, options: unknown): Promise<void> {
  const state = get();
  const asset = state.asset!;
  try {
    const files = asset.source.key || asset.images.length ? await fetchFiles(asset.id) : {};
    const name = numbersFiles() ? `${asset.name}_v${String(await takeNumber(asset.id)).padStart(3, "0")}` : asset.name;
    await own.export(op.title, op.id, options, scopeNow(state, op), files, name, async (written) => {
      await saveFiles(written.files);
      const wrote = `Wrote ${written.files.map((f) => f.name).join(" and ")}.`;
      say([wrote, ...written.warnings].join(" "), written.warnings.length ? "warning" : "info");
    });
  } catch (error) {
    say(error instanceof Error ? error.message : String(error), "refused");
  }
}

/** An automatic mark before something big; a name of its own is for the person to give. */
async function markBefore(title: string): Promise<void> {
  const { asset, history, unsaved } = get();
  // What came with the file is there as the first step and needs no mark.
  if (asset && history && history.head > 0 && !unsaved)
    await sendMark(asset.id, { name: `Before ${title}`, automatic: true }).catch(() => {});
}

/** Makes a UV set the one worked on. */
export const targetSet = (id: UvSetId): void => session?.target(id);

/** Measures again what is on the table: another kind of stretch is to be painted. */
export const remeasure = (): void => session?.measure();

/** Finds anew what hinders UV work on the meshes. */
export async function refreshFaults(): Promise<void> {
  try {
    const faults = await session?.lookUp((remote, revision) => remote.faults(revision));
    if (faults) useBench.setState({ faults });
  } catch (error) {
    say(`The report failed: ${(error as Error).message}`, "refused");
  }
}

/** Finds anew which parts are alike; of no consequence when it fails. */
export async function refreshLikeness(): Promise<void> {
  const alike = await session?.lookUp((remote, revision) => remote.likeness(revision)).catch(() => null);
  if (alike) useBench.setState({ alike });
}

/** Fetches steps and marks, when they are shown. */
export async function refreshPast(): Promise<void> {
  const { asset, side } = get();
  if (!asset || side !== "history") return;
  try {
    const past = await fetchHistory(asset.id);
    if (get().asset?.id === asset.id) useBench.setState({ past });
  } catch (error) {
    if (error instanceof UserError) say(error.message, "refused");
    else throw error;
  }
}

/** Saves the steps that led here as a file, which does them again on the command line. */
export async function saveSteps(): Promise<void> {
  const { asset } = get();
  if (!asset) return;
  try {
    const name = `${asset.name} history.json`;
    await saveFiles([{ name, type: "application/json", bytes: await fetchSteps(asset.id) }]);
    say(`Wrote ${name}. ./tavlin replay does these steps again on a file.`);
  } catch (error) {
    say(error instanceof Error ? error.message : String(error), "refused");
  }
}

/** Goes to any step of the history; nothing that came after is lost. */
export async function jumpTo(number: number): Promise<void> {
  if (!session || get().history?.head === number) return;
  await session.step({ to: number }, "Going there", () => `Now at step ${number}. Later steps are kept.`);
}

/** Steps back or forth; quick ones wait for each other. */
export async function stepBench(direction: "undo" | "redo"): Promise<void> {
  const undo = direction === "undo";
  await session?.step(direction, undo ? "Undo" : "Redo", (h) => {
    const words = undo ? h.undo : h.redo;
    return words && `${undo ? "Undone" : "Redone"}: ${words}`;
  });
}

/** Begins to move the picked shells under the pointer; null when they cannot be moved. */
export async function beginMove(): Promise<LiveMove | null> {
  const state = get();
  return session && state.asset ? session.beginMove(scopeNow(state, move)) : null;
}

export const setOption = (operation: string, name: string, value: unknown): void => {
  const { options } = get();
  useBench.setState({ options: { ...options, [operation]: { ...options[operation], [name]: value } } });
};
