import { runOperation, stepBench } from "../session/actions";
import { stopLastJob } from "../session/jobs";
import {
  clearPicked,
  frameAll,
  frameSelection,
  isolate,
  pickAll,
  setKind,
  stepSelection,
  toggleHiddenPicked,
} from "../session/selection";
import { useBench } from "../session/store";
import { askMark } from "./ask";
import { presetOf } from "./stages";

/** A key, what it does, and the words for it; operations are named by id. */
export interface KeyPlan {
  readonly key: string;
  readonly words: string;
  readonly operation?: string;
  run(): void;
}

const operation = (key: string, id: string, words: string): KeyPlan => ({
  key,
  words,
  operation: id,
  run: () => void runOperation(id, presetOf(id)),
});

export function toggleIsolate(): void {
  const { asset, picked, rows } = useBench.getState();
  const touched = asset?.parts.filter((p) => picked.has(p.shape)).map((p) => p.id) ?? [];
  isolate(rows.size ? rows : new Set(touched));
}

export const cycleView = (): void => {
  const order = ["shaded", "swatch", "stretch", "tints"] as const;
  const { view } = useBench.getState();
  useBench.setState({ view: order[(order.indexOf(view) + 1) % order.length]! });
};

/** Opens the stage in which shells are placed and puts the caret into one of its numbers. */
function enterNumber(title: string): void {
  useBench.setState({ stage: "place" });
  requestAnimationFrame(() => {
    const field = document.querySelector<HTMLInputElement>(`[data-operation="move"] input[aria-label="${title}"]`);
    field?.focus();
    field?.select();
  });
}

/** The table of keys; they are held against the key's letter wherever it sits. */
export const KEYS: readonly KeyPlan[] = [
  operation("C", "cut", "Cut the picked edges"),
  operation("J", "join", "Join the picked edges"),
  operation("U", "unfold", "Unfold"),
  operation("L", "level", "Level"),
  operation("P", "pack", "Pack"),
  operation("D", "draft", "Draft a whole layout"),
  operation("K", "creased", "Propose seams: Creased"),
  operation("O", "open-up", "Propose seams: Open up"),
  { key: "W", words: "Move the picked shells by numbers", run: () => enterNumber("Move u") },
  { key: "E", words: "Turn the picked shells by a number", run: () => enterNumber("Turn") },
  { key: "R", words: "Scale the picked shells by a number", run: () => enterNumber("Scale") },
  { key: "1", words: "Pick vertices", run: () => setKind("vertices") },
  { key: "2", words: "Pick edges", run: () => setKind("edges") },
  { key: "3", words: "Pick faces", run: () => setKind("faces") },
  { key: "4", words: "Pick shells", run: () => setKind("shells") },
  { key: "F", words: "Frame what is picked", run: frameSelection },
  { key: "A", words: "Frame all", run: frameAll },
  { key: "I", words: "Isolate the picked parts, or bring the others back", run: toggleIsolate },
  { key: "V", words: "Next view of the faces", run: cycleView },
  { key: "Z", words: "Wires on or off", run: () => useBench.setState({ wires: !useBench.getState().wires }) },
  { key: "X", words: "Both panes, Form alone, Sheet alone", run: () => cyclePanes() },
  { key: "B", words: "The selection before this one", run: () => stepSelection("back") },
  { key: "shift+B", words: "The selection after this one", run: () => stepSelection("forth") },
  { key: "M", words: "Set a mark here", run: () => askMark() },
  { key: "H", words: "Hide the picked parts, or show all", run: () => toggleHiddenPicked() },
  { key: "mod+A", words: "Pick everything visible", run: pickAll },
  { key: "mod+Z", words: "Undo", run: () => void stepBench("undo") },
  { key: "mod+shift+Z", words: "Redo", run: () => void stepBench("redo") },
  { key: "mod+Y", words: "Redo", run: () => void stepBench("redo") },
  {
    key: "Escape",
    words: "Stop the work, or pick nothing",
    run: () => (useBench.getState().jobs.length ? stopLastJob() : clearPicked()),
  },
];

export function cyclePanes(): void {
  const order = ["both", "form", "sheet"] as const;
  const { panes } = useBench.getState();
  useBench.setState({ panes: order[(order.indexOf(panes) + 1) % order.length]! });
}

export const keyOf = (id: string): string | undefined => KEYS.find((k) => k.operation === id)?.key;
