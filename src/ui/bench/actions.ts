import { seedDerived } from "@/compute/derived";
import { Engine, Stopped } from "@/compute/engine";
import { type Summary, summaryOf } from "@/core/check/summary";
import type { FileIn } from "@/core/formats/read-options";
import { sameBits } from "@/core/layout/bits";
import { type AssetDelta, withDelta } from "@/core/layout/delta";
import { UserError } from "@/core/layout/user-error";
import type { Note, Selection } from "@/core/operations/operation";
import { operationById } from "@/core/operations/registry";
import type { HistoryState } from "@/server/assets";
import {
  fetchAsset,
  fetchFiles,
  fetchHistory,
  Overtaken,
  sendFigures,
  sendMark,
  sendRevision,
  sendStep,
  takeNumber,
} from "./remote";
import { numbersFiles, saveFiles } from "./save-files";
import { frameSelection, select } from "./selection";
import { type BenchState, EMPTY, type Picked, scopeNow, useBench } from "./store";

const RESOLUTION = 2048;
/** Faces beyond which wires are off until they are asked for. */
const FINE = 300_000;

let engine: Engine | null = null;
const NO_BITS = new Uint8Array(0);
const set = (part: Partial<BenchState>) => useBench.setState(part);
const get = () => useBench.getState();

export function say(words: string, tone: "info" | "refused" = "info", notes: readonly Note[] = []): void {
  set({ message: { words, tone, notes } });
}

/** Puts an asset on the table. */
export async function openBench(id: string): Promise<void> {
  engine?.dispose();
  engine = new Engine();
  set({ ...useBench.getInitialState(), stage: get().stage, view: get().view });
  const own = engine;
  const { bytes, history } = await fetchAsset(id);
  const asset = await own.open(bytes);
  // The bench may have been closed, or opened anew, while this was on its way.
  if (engine !== own) return;
  const faces = asset.parts.reduce((n, p) => n + p.mesh.faceStart.length - 1, 0);
  // On a very fine mesh wires hide the faces, and take longer to draw than all else.
  set({ asset, history, savedAt: new Date(), frame: { what: "all", count: 1 }, wires: faces < FINE });
  await refreshFigures();
}

export function closeBench(): void {
  engine?.dispose();
  engine = null;
  set(useBench.getInitialState());
}

/** Takes what is newest on the server, after another tab has changed it. */
export async function takeNewest(): Promise<void> {
  const { asset } = get();
  if (!asset) return;
  const fresh = await fetchAsset(asset.id);
  const newest = await engine!.open(fresh.bytes);
  set({
    asset: newest,
    history: fresh.history,
    conflict: null,
    faults: null,
    set: Math.min(get().set, newest.sets.length - 1),
    picked: EMPTY,
    preview: EMPTY,
    lastEdge: null,
    savedAt: new Date(),
  });
  say("The newest state is on the table.");
  await refreshFigures();
}

async function refreshFigures(): Promise<Summary | null> {
  if (!engine) return null;
  const { value } = await engine.run<"measure">({ type: "measure", resolution: RESOLUTION, set: get().set });
  const summary = summaryOf(value.measures);
  set({ measures: value.measures, summary, stretch: value.stretch });
  const { asset, history } = get();
  if (asset && history) void sendFigures(asset.id, history.version, summary);
  return summary;
}

/** Runs work that is told of in the status line, one at a time; refusals become messages. */
async function busy(title: string, act: (progress: (share: number) => void) => Promise<void>): Promise<void> {
  if (get().running) {
    say(`${get().running!.title} is still running; stop it first.`, "refused");
    return;
  }
  set({ running: { title, share: 0 }, message: null });
  try {
    await act((share) => set({ running: { title, share } }));
  } catch (error) {
    if (error instanceof Stopped) say(`${title} was stopped; nothing has changed.`);
    else if (error instanceof Overtaken) set({ conflict: error.message });
    else if (error instanceof UserError) say(error.message, "refused");
    else say(`${title} failed: ${error instanceof Error ? error.message : error}`, "refused");
  } finally {
    set({ running: null });
  }
}

/** Elements are numbered anew when seams or shapes change; a selection of them would mean others. */
function keptSelection(delta: AssetDelta): Partial<BenchState> {
  const { asset, kind, picked, set: index } = get();
  const gone = new Set(delta.parts.filter((p) => p.body).map((p) => p.record.id));
  if (kind === "shells")
    for (const { part, layout } of delta.layouts) {
      const was = asset!.parts.find((p) => p.id === part)?.uvSets[index];
      if (!layout || !sameBits(was?.cut ?? NO_BITS, layout.cut)) gone.add(part);
    }
  if (delta.head) for (const id of picked.keys()) if (!delta.head.order.includes(id)) gone.add(id);
  if (![...picked.keys()].some((id) => gone.has(id))) return {};
  return { picked: new Map([...picked].filter(([id]) => !gone.has(id))), preview: EMPTY, lastEdge: null };
}

function applyDelta(delta: AssetDelta, history: HistoryState): void {
  const { asset, set: index } = get();
  const kept = keptSelection(delta);
  const next = withDelta(asset!, delta);
  // The set worked on stays the one it was, wherever it has moved to.
  const at = next.sets.findIndex((s) => s.id === asset!.sets[index]?.id);
  const shapes = delta.parts.length > 0 || delta.head !== undefined;
  const rows = new Set([...get().rows].filter((id) => next.parts.some((p) => p.id === id)));
  set({
    asset: next,
    history,
    set: Math.max(0, at),
    savedAt: new Date(),
    hover: null,
    rows,
    ...(shapes ? { faults: null } : {}),
    ...kept,
  });
}

const pickedOf = (s: Selection): Picked => new Map([...s.items].map(([id, items]) => [id, new Set(items)]));

/** Runs an edit or an export by its id, on what is picked or everything visible. */
export function runOperation(
  id: string,
  extra: Readonly<Record<string, unknown>> = {},
  files?: readonly FileIn[],
): Promise<void> {
  const op = operationById(id);
  const state = get();
  if (!state.asset) return Promise.resolve();
  const options = { ...state.options[id], ...extra };
  const scope = scopeNow(state, op);
  if (op.kind === "export") {
    return busy(op.title, async (progress) => {
      const { asset } = state;
      const files = asset!.source.key || asset!.images.length ? await fetchFiles(asset!.id) : {};
      const name = numbersFiles()
        ? `${asset!.name}_v${String(await takeNumber(asset!.id)).padStart(3, "0")}`
        : asset!.name;
      const { value } = await engine!.run<"export">(
        { type: "export", operation: id, options, scope, files, name },
        progress,
      );
      await saveFiles(value.files);
      const wrote = `Wrote ${value.files.map((f) => f.name).join(" and ")}.`;
      say([wrote, ...value.warnings].join(" "), value.warnings.length ? "refused" : "info");
    });
  }
  if (op.kind === "select")
    return busy(op.title, async (progress) => {
      const { value } = await engine!.run<"select">({ type: "select", operation: id, options, scope }, progress);
      select(value.selection.kind, pickedOf(value.selection));
      if (value.selection.items.size) frameSelection();
      say(value.words);
    });
  return busy(op.title, async (progress) => {
    const before = state.summary;
    if (op.kind === "edit" && op.big) await markBefore(op.title);
    const { run, value } = await engine!.run<"edit">(
      { type: "edit", operation: id, options, scope, ...(files ? { files } : {}) },
      progress,
    );
    const revision = { base: state.history!.version, operation: id, options, words: value.words, figures: null };
    // Saved first, shown then: what is on the table is what the database has.
    const history = await sendRevision(state.asset!.id, revision, value.delta, value.files);
    engine!.keep(run, value.delta);
    applyDelta(value.delta, history);
    seedDerived(get().asset!, value.derived);
    if (value.pick) select(value.pick.kind, pickedOf(value.pick));
    if (value.target) targetSet(value.target);
    void refreshPast();
    // Saved already: stopping the measuring takes nothing back, and must not say so.
    const after = await refreshFigures().catch((error: Error) => {
      if (error instanceof Stopped) return null;
      throw error;
    });
    set({ outcomes: { ...get().outcomes, [id]: { words: value.words, before, after, notes: value.notes } } });
    say(value.words, value.notes.length ? "refused" : "info", value.notes);
  });
}

/** A mark set by itself before something big; a name of its own is for the person to give. */
async function markBefore(title: string): Promise<void> {
  const { asset, history } = get();
  // What came with the file is there as the first step and needs no mark.
  if (asset && history && history.head > 0)
    await sendMark(asset.id, { name: `Before ${title}`, automatic: true }).catch(() => {});
}

/** Makes a UV set the one worked on. */
export function targetSet(id: string): void {
  const { asset, set: now } = get();
  const index = asset?.sets.findIndex((s) => s.id === id) ?? -1;
  if (index < 0 || index === now) return;
  set({ set: index, measures: null, summary: null, ...(get().kind === "shells" ? { picked: EMPTY } : {}) });
  void refreshFigures().catch(() => {});
}

/** Finds anew what hinders UV work on the meshes. */
export async function refreshFaults(): Promise<void> {
  if (!engine || get().running) return;
  try {
    const { value } = await engine.run<"faults">({ type: "faults" });
    set({ faults: value });
  } catch (error) {
    if (!(error instanceof Stopped)) throw error;
  }
}

/** Fetches steps and marks, when they are shown. */
export async function refreshPast(): Promise<void> {
  const { asset, side } = get();
  if (asset && side === "history") set({ past: await fetchHistory(asset.id) });
}

/** Goes to any step of the history; nothing that came after is lost. */
export function jumpTo(number: number): Promise<void> {
  const { asset, history } = get();
  if (!asset || !history || history.head === number) return Promise.resolve();
  return busy("Going there", async () => {
    const step = await sendStep(asset.id, history.version, { to: number });
    engine!.apply(step.delta);
    applyDelta(step.delta, step.history);
    await refreshFigures().catch((error: Error) => {
      if (!(error instanceof Stopped)) throw error;
    });
    void refreshPast();
    say("Gone to that step; later ones are still in the list.");
  });
}

/** Steps asked for and not yet taken: they wait for each other, and only the last is measured. */
let stepsAhead = 0;
let stepping: Promise<void> = Promise.resolve();

export function stepBench(direction: "undo" | "redo"): Promise<void> {
  stepsAhead++;
  stepping = stepping.then(() => {
    stepsAhead--;
    return takeStep(direction);
  });
  return stepping;
}

function takeStep(direction: "undo" | "redo"): Promise<void> {
  const { asset, history } = get();
  const words = direction === "undo" ? history?.undo : history?.redo;
  if (!asset || !history) return Promise.resolve();
  if (!words) {
    say(direction === "undo" ? "There is nothing to undo." : "There is nothing to redo.");
    return Promise.resolve();
  }
  return busy(direction === "undo" ? "Undo" : "Redo", async () => {
    const step = await sendStep(asset.id, history.version, direction);
    engine!.apply(step.delta);
    applyDelta(step.delta, step.history);
    if (!stepsAhead)
      await refreshFigures().catch((error: Error) => {
        if (!(error instanceof Stopped)) throw error;
      });
    void refreshPast();
    say(`${direction === "undo" ? "Undone" : "Redone"}: ${words}`);
  });
}

/** Ends the running work at once; the document stays as it was. */
export const stopWork = (): void => engine?.stop();

export const setOption = (operation: string, name: string, value: unknown): void => {
  const { options } = get();
  set({ options: { ...options, [operation]: { ...options[operation], [name]: value } } });
};
