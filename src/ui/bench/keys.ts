import { useMemo } from "react";
import type { SelectionKind } from "@/core/operations/operation";
import { move, OPERATIONS } from "@/core/operations/registry";
import { stepBench } from "../session/actions";
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
import { openRow, useBench } from "../session/store";
import { askMark } from "./ask";
import { type Keyed, keysAfter, useKeyChoices } from "./key-choices";
import { showKeys } from "./key-table";
import { runOrAsk } from "./operation-form";
import { shortTitle } from "./short-title";
import { toggleTray } from "./tray-choice";

/** Something the interface does: its name in the palette and the table of keys, and the key it comes with. */
export interface Command extends Keyed {
  readonly words: string;
  /** What it does, in a sentence, where its name does not say all. */
  readonly about?: string;
  /** Its name on the tray, and the kinds of picked elements for which it stands there. */
  readonly short?: string;
  readonly fits?: readonly SelectionKind[];
  run(): void;
}

const EVERY_KIND = ["vertices", "edges", "faces", "shells"] as const;

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
  openRow("place", move.id);
  useBench.setState({ stage: "place" });
  requestAnimationFrame(() => {
    const field = document.querySelector<HTMLInputElement>(
      `[data-operation="${move.id}"] input[aria-label="${title}"]`,
    );
    field?.focus();
    field?.select();
  });
}

/** What the interface does by itself; operations have their keys where they are described. */
const COMMANDS: readonly Command[] = [
  { id: "move-by-number", key: "W", words: "Move the picked shells by numbers", run: () => enterNumber("Move u") },
  {
    id: "turn-by-number",
    key: "E",
    words: "Turn the picked shells by a number",
    short: "Turn",
    fits: ["shells"],
    run: () => enterNumber("Turn"),
  },
  { id: "scale-by-number", key: "R", words: "Scale the picked shells by a number", run: () => enterNumber("Scale") },
  { id: "kind-vertices", key: "1", words: "Pick vertices", run: () => setKind("vertices") },
  { id: "kind-edges", key: "2", words: "Pick edges", run: () => setKind("edges") },
  { id: "kind-faces", key: "3", words: "Pick faces", run: () => setKind("faces") },
  { id: "kind-shells", key: "4", words: "Pick shells", run: () => setKind("shells") },
  {
    id: "frame-picked",
    key: "F",
    words: "Frame what is picked",
    short: "Frame",
    fits: EVERY_KIND,
    run: frameSelection,
  },
  { id: "frame-all", key: "shift+F", words: "Frame all", run: frameAll },
  {
    id: "isolate",
    key: "I",
    words: "Isolate the picked parts, or bring the others back",
    short: "Isolate",
    fits: EVERY_KIND,
    run: toggleIsolate,
  },
  { id: "next-view", key: "V", words: "Next view of the faces", run: cycleView },
  {
    id: "wires",
    key: "Z",
    words: "Wires on or off",
    run: () => useBench.setState({ wires: !useBench.getState().wires }),
  },
  { id: "next-panes", key: "X", words: "Both panes, Form alone, Sheet alone", run: () => cyclePanes() },
  { id: "selection-back", key: "B", words: "The selection before this one", run: () => stepSelection("back") },
  { id: "selection-forth", key: "shift+B", words: "The selection after this one", run: () => stepSelection("forth") },
  { id: "mark", key: "M", words: "Set a mark here", run: () => askMark() },
  { id: "hide", key: "H", words: "Hide the picked parts, or show all", run: () => toggleHiddenPicked() },
  { id: "pick-all", key: "mod+A", words: "Pick everything visible", run: pickAll },
  { id: "undo", key: "mod+Z", words: "Undo", run: () => void stepBench("undo") },
  { id: "redo", key: "mod+shift+Z", words: "Redo", run: () => void stepBench("redo") },
  { id: "redo-too", key: "mod+Y", words: "Redo, by another key", run: () => void stepBench("redo") },
  { id: "tray", words: "Tray: show it, or put it away", run: toggleTray },
  { id: "keys", key: "shift+?", words: "Keys: look them up, or change them", run: () => showKeys(ACTIONS) },
  {
    id: "stop",
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

/** Everything that can be asked for by name or by key. Keys are held against the key's letter wherever it sits. */
export const ACTIONS: readonly Command[] = [
  ...OPERATIONS.filter((op) => op.kind !== "measure").map((op) => ({
    id: op.id,
    words: op.title,
    about: op.about,
    ...(op.key ? { key: op.key } : {}),
    ...(op.fits ? { fits: op.fits, short: shortTitle(op) } : {}),
    run: () => runOrAsk(op),
  })),
  ...COMMANDS,
];

/** Keys as they are in this browser, by what they stand for. */
export function useKeys(): ReadonlyMap<string, string> {
  const chosen = useKeyChoices((s) => s.chosen);
  return useMemo(() => keysAfter(ACTIONS, chosen), [chosen]);
}

export const useKeyOf = (id: string): string | undefined => useKeys().get(id);
