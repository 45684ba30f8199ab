import { Engine, Stopped } from "@/compute/engine";
import { type Summary, summaryOf } from "@/core/check/summary";
import { type LayoutChange, withLayouts } from "@/core/layout/asset";
import { sameBits } from "@/core/layout/bits";
import { UserError } from "@/core/layout/user-error";
import type { Note } from "@/core/operations/operation";
import { operationById } from "@/core/operations/registry";
import type { HistoryState } from "@/server/store";
import { fetchAsset, fetchSource, Overtaken, sendFigures, sendRevision, sendStep } from "./remote";
import { saveFiles } from "./save-files";
import { type BenchState, EMPTY, scopeNow, useBench } from "./store";

const RESOLUTION = 2048;

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
  const { asset, history } = await fetchAsset(id);
  engine.load(asset);
  set({ asset, history, savedAt: new Date(), frame: { what: "all", count: 1 } });
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
  engine!.load(fresh.asset);
  set({
    asset: fresh.asset,
    history: fresh.history,
    conflict: null,
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

/** Shells are numbered anew when seams change; a selection of them would mean others. */
function keptSelection(changes: readonly LayoutChange[]): Partial<BenchState> {
  const { asset, kind, picked, set: index } = get();
  if (kind !== "shells") return {};
  const renumbered = changes.some(
    (c) => !sameBits(asset!.parts.find((p) => p.id === c.part)?.uvSets[index]?.cut ?? NO_BITS, c.layout.cut),
  );
  return renumbered && picked.size ? { picked: EMPTY } : {};
}

function applyChanges(changes: readonly LayoutChange[], history: HistoryState): void {
  const { asset } = get();
  set({ asset: withLayouts(asset!, changes), history, savedAt: new Date(), hover: null, ...keptSelection(changes) });
}

/** Runs an edit or an export by its id, on what is picked or everything visible. */
export function runOperation(id: string, extra: Record<string, unknown> = {}): Promise<void> {
  const op = operationById(id);
  const state = get();
  if (!state.asset) return Promise.resolve();
  const options = { ...state.options[id], ...extra };
  const scope = scopeNow(state);
  if (op.kind === "export") {
    return busy(op.title, async (progress) => {
      const { asset } = state;
      const source = asset!.source.format === "made" ? null : await fetchSource(asset!.id);
      const { value } = await engine!.run<"export">(
        { type: "export", operation: id, options, scope, source },
        progress,
      );
      await saveFiles(value.files);
      const wrote = `Wrote ${value.files.map((f) => f.name).join(" and ")}.`;
      say([wrote, ...value.warnings].join(" "), value.warnings.length ? "refused" : "info");
    });
  }
  return busy(op.title, async (progress) => {
    const before = state.summary;
    const { run, value } = await engine!.run<"edit">({ type: "edit", operation: id, options, scope }, progress);
    const revision = { base: state.history!.version, operation: id, options, words: value.words, figures: null };
    // Saved first, shown then: what is on the table is what the database has.
    const history = await sendRevision(state.asset!.id, revision, value.changes);
    engine!.keep(run, value.changes);
    applyChanges(value.changes, history);
    // Saved already: stopping the measuring takes nothing back, and must not say so.
    const after = await refreshFigures().catch((error: Error) => {
      if (error instanceof Stopped) return null;
      throw error;
    });
    set({ outcomes: { ...get().outcomes, [id]: { words: value.words, before, after, notes: value.notes } } });
    say(value.words, value.notes.length ? "refused" : "info", value.notes);
  });
}

export function stepBench(direction: "undo" | "redo"): Promise<void> {
  const { asset, history } = get();
  const words = direction === "undo" ? history?.undo : history?.redo;
  if (!asset || !history) return Promise.resolve();
  if (!words) {
    say(direction === "undo" ? "There is nothing to undo." : "There is nothing to redo.");
    return Promise.resolve();
  }
  return busy(direction === "undo" ? "Undo" : "Redo", async () => {
    const step = await sendStep(asset.id, history.version, direction);
    engine!.apply(step.changes);
    applyChanges(step.changes, step.history);
    await refreshFigures().catch((error: Error) => {
      if (!(error instanceof Stopped)) throw error;
    });
    say(`${direction === "undo" ? "Undone" : "Redone"}: ${words}`);
  });
}

/** Ends the running work at once; the document stays as it was. */
export const stopWork = (): void => engine?.stop();

export const setOption = (operation: string, name: string, value: unknown): void => {
  const { options } = get();
  set({ options: { ...options, [operation]: { ...options[operation], [name]: value } } });
};
