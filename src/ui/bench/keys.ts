import { useMemo } from "react";
import { flushSync } from "react-dom";
import { SELECTION_KINDS } from "@/core/layout/selection-kind";
import { move, movePoints, nudge, OPERATIONS } from "@/core/operations/registry";
import { NUDGES, nudged, STEPS } from "@/core/place/nudges";
import { runOperation, stepBench } from "../session/actions";
import type { BenchSession } from "../session/bench-session";
import { takeAllBranches } from "../session/branches";
import { copyLayout, pasteLayout } from "../session/copied-layout";
import { resizeFalloff } from "../session/falloff";
import { stopLastJob } from "../session/jobs";
import { nextMirror } from "../session/mirror-picks";
import { endOneByOne, joinNext, skipJoin } from "../session/one-by-one";
import { letGoOfPiece, reviewNext } from "../session/review";
import { say } from "../session/say";
import {
  clearPicked,
  frameAll,
  frameSelection,
  isolatePicked,
  pickAll,
  pickWholeParts,
  setKind,
  stepSelection,
  toggleHiddenPicked,
} from "../session/selection";
import { type Bench, brushWithin, openRow, PLAIN_TOOL } from "../session/store";
import { dropThread, keepThread, takeBackThread } from "../session/thread";
import { toggleTheme } from "../theme/theme-choice";
import { branchTool } from "../tools/branch-tool";
import { threadTool } from "../tools/thread-tool";
import type { Tool } from "../tools/tool";
import { TOOLS, toolNamed } from "../tools/tools";
import { askMark } from "./ask";
import type { Command } from "./command";
import { keysAfter, useKeyChoices } from "./key-choices";
import { showKeys } from "./key-table";
import { LOOK_COMMANDS } from "./look-commands";
import { runOrAsk } from "./operation-form";
import { shortTitle } from "./short-title";
import { toggleTray } from "./tray-choice";

const EVERY_KIND = SELECTION_KINDS;

/**
 * Opens the stage in which shells are placed and puts the caret into one of its numbers, before the next key comes: what
 * is typed right away is meant for it.
 */
function enterNumber(bench: Bench, title: string): void {
  const { id, stage } = bench.getState().kind === "points" ? movePoints : move;
  flushSync(() => {
    openRow(bench, stage, id);
    bench.setState({ stage, columns: true });
  });
  const enter = () => {
    const field = document.querySelector<HTMLInputElement>(`[data-operation="${id}"] input[aria-label="${title}"]`);
    field?.focus();
    field?.select();
  };
  enter();
  // Asked for in the palette, which gives the focus away as it closes.
  if (document.querySelector("[role=dialog]")) requestAnimationFrame(enter);
}

/** One thing at a time: work is stopped, then the tool put away, then what is picked let go. */
function letGo({ bench }: BenchSession): void {
  const { jobs, tool, peek, thread } = bench.getState();
  if (peek) bench.setState({ peek: false });
  else if (jobs.length) stopLastJob(bench);
  else if (thread) dropThread(bench);
  else if (tool !== PLAIN_TOOL) bench.setState({ tool: PLAIN_TOOL, overlay: null });
  else clearPicked(bench);
}

/** Shows the state before the last step for as long as the key is held, or until Escape where none is. */
function lookBack(bench: Bench): void {
  if (bench.getState().before) bench.setState({ peek: true });
  else say(bench, "No step has been taken since the asset was opened.");
}

/** The number that a tool's key leads to when the tool is taken already. */
const NUMBERS: Readonly<Record<string, string>> = { move: "Move u", turn: "Turn", scale: "Scale" };

/** Takes a tool; one that has a number is asked for it when it is taken already. */
function takeTool(bench: Bench, tool: Tool): void {
  const number = NUMBERS[tool.id];
  const again = bench.getState().tool === tool.id;
  dropThread(bench);
  // What was said before is read; what the tool does is to be read now.
  bench.setState({ tool: tool.id, overlay: null, message: null });
  if (tool.works && !tool.works.includes(bench.getState().kind)) setKind(bench, tool.works[0]!);
  if (number && again) enterNumber(bench, number);
}

/** Picks what a tool shows ahead. */
function keepShown(bench: Bench): void {
  if (bench.getState().thread) keepThread(bench);
  else takeAllBranches(bench);
}

/** Makes the brush, or the falloff of a tool that moves points, larger or smaller. */
function resizeBrush(bench: Bench, by: number): void {
  const { tool, kind } = bench.getState();
  if (kind === "points" && toolNamed(tool).fades) {
    resizeFalloff(bench, by);
    return;
  }
  bench.setState(({ brushRadius, overlay }) => {
    const radius = brushWithin(brushRadius * by);
    // The disc that is shown follows at once.
    const shown = overlay?.shape.kind === "disc" ? { ...overlay, shape: { ...overlay.shape, radius } } : overlay;
    return { brushRadius: radius, overlay: shown };
  });
}

/** The states of the panes. */
const TOOL_COMMANDS: readonly Command[] = TOOLS.map((tool) => ({
  id: `tool-${tool.id}`,
  key: tool.key,
  words: `${tool.title}: ${tool.about[0]!.toLowerCase()}${tool.about.slice(1, -1)}`,
  ...(tool.id in NUMBERS ? { about: "Asked for again, the number can be typed." } : {}),
  run: ({ bench }) => takeTool(bench, tool),
}));

/** Moves picked shells, or UV points, by a step. */
function nudgePicked(session: BenchSession, way: (typeof NUDGES)[number], by: (typeof STEPS)[number]): void {
  const { kind, asset } = session.bench.getState();
  if (kind === "shells") void runOperation(session, nudge, { way, by });
  else if (kind === "points" && asset) {
    const [du, dv] = nudged(asset, way, by);
    void runOperation(session, movePoints, { du, dv, turn: 0, scale: 1 });
  } else say(session.bench, "Arrow keys move picked shells (4) and UV points (6).");
}

/** Arrow keys move what is picked by steps. */
const NUDGE_KEYS = { left: "ArrowLeft", right: "ArrowRight", up: "ArrowUp", down: "ArrowDown" } as const;
const STEP_KEYS = { "a pixel": "", "a padding": "shift+", "a grid square": "alt+", "a tile": "alt+shift+" } as const;
const NUDGE_COMMANDS: readonly Command[] = STEPS.flatMap((by) =>
  NUDGES.map(
    (way): Command => ({
      id: `${nudge.id}-${way}-${by.replaceAll(" ", "-")}`,
      key: `${STEP_KEYS[by]}${NUDGE_KEYS[way]}`,
      words: `Nudge ${way} by ${by}`,
      run: (session) => nudgePicked(session, way, by),
    }),
  ),
);

/** What the interface does by itself; operations have their keys where they are described. */
const COMMANDS: readonly Command[] = [
  { id: "brush-larger", key: "]", words: "Brush or falloff: larger", run: ({ bench }) => resizeBrush(bench, 1.25) },
  { id: "brush-smaller", key: "[", words: "Brush or falloff: smaller", run: ({ bench }) => resizeBrush(bench, 0.8) },
  {
    id: "thread-back",
    key: "Backspace",
    words: "Thread: take the last piece back",
    short: "Take back",
    tools: [threadTool.id],
    run: ({ bench }) => takeBackThread(bench),
  },
  {
    id: "keep",
    key: "Enter",
    words: "Thread and branches: pick what is shown",
    short: "Pick it",
    tools: [threadTool.id, branchTool.id],
    run: ({ bench }) => keepShown(bench),
  },
  {
    id: "through",
    key: "T",
    words: "Pick through: also pick what lies behind",
    run: ({ bench }) => bench.setState(({ through }) => ({ through: !through })),
  },
  {
    id: "mirror-picks",
    key: "shift+M",
    words: "Mirror picks: across x, y, z, or not",
    run: ({ bench }) => nextMirror(bench),
  },
  { id: "kind-vertices", key: "1", words: "Pick vertices", run: ({ bench }) => setKind(bench, "vertices") },
  { id: "kind-points", key: "6", words: "Pick UV points", run: ({ bench }) => setKind(bench, "points") },
  { id: "kind-edges", key: "2", words: "Pick edges", run: ({ bench }) => setKind(bench, "edges") },
  { id: "kind-faces", key: "3", words: "Pick faces", run: ({ bench }) => setKind(bench, "faces") },
  { id: "kind-shells", key: "4", words: "Pick shells", run: ({ bench }) => setKind(bench, "shells") },
  { id: "kind-parts", key: "5", words: "Pick whole parts", run: ({ bench }) => pickWholeParts(bench) },
  {
    id: "frame-picked",
    key: "F",
    words: "Frame what is picked",
    short: "Frame",
    fits: EVERY_KIND,
    run: ({ bench }) => frameSelection(bench),
  },
  {
    id: "review-next",
    key: "shift+J",
    words: "Review: frame the next piece of what is picked, the smallest first",
    about: "With nothing picked, it goes through all shells in view.",
    run: (session) => void reviewNext(session, 1),
  },
  { id: "review-back", words: "Review: frame the piece before", run: (session) => void reviewNext(session, -1) },
  { id: "review-let-go", words: "Review: let go of this piece", run: ({ bench }) => letGoOfPiece(bench) },
  {
    id: "join-next",
    key: "alt+J",
    words: "One by one: join what is proposed, and propose the next",
    about: "Undo steps back; Skip and Keep open propose another.",
    run: (session) => void joinNext(session),
  },
  {
    id: "join-skip",
    key: "alt+K",
    words: "One by one: skip this join",
    run: (session) => void skipJoin(session, false),
  },
  {
    id: "join-keep",
    words: "One by one: keep these seams open for good",
    run: (session) => void skipJoin(session, true),
  },
  { id: "join-end", words: "One by one: begin anew", run: endOneByOne },
  { id: "frame-all", key: "shift+F", words: "Frame all", run: ({ bench }) => frameAll(bench) },
  {
    id: "isolate",
    key: "I",
    words: "Isolate what is picked, or show all again",
    short: "Isolate",
    fits: ["vertices", "faces", "shells"],
    run: ({ bench }) => isolatePicked(bench),
  },
  {
    id: "selection-back",
    key: "B",
    words: "The selection before this one",
    run: ({ bench }) => stepSelection(bench, "back"),
  },
  {
    id: "selection-forth",
    key: "shift+B",
    words: "The selection after this one",
    run: ({ bench }) => stepSelection(bench, "forth"),
  },
  {
    id: "peek",
    key: "G",
    words: "Before and after: hold to see the state before the last step",
    run: ({ bench }) => lookBack(bench),
    release: ({ bench }) => bench.setState({ peek: false }),
  },
  { id: "mark", key: "M", words: "Set a mark here", run: (session) => askMark(session) },
  { id: "hide", key: "H", words: "Hide the picked parts, or show all", run: ({ bench }) => toggleHiddenPicked(bench) },
  { id: "pick-all", key: "mod+A", words: "Pick everything visible", run: ({ bench }) => pickAll(bench) },
  { id: "copy-layout", key: "mod+C", words: "Copy layout of the picked shells", run: copyLayout },
  {
    id: "paste-layout",
    key: "mod+V",
    words: "Paste layout onto the picked shells",
    run: (session) => void pasteLayout(session),
  },
  { id: "undo", key: "mod+Z", words: "Undo", run: (session) => void stepBench(session, "undo") },
  { id: "redo", key: "mod+shift+Z", words: "Redo", run: (session) => void stepBench(session, "redo") },
  { id: "redo-too", key: "mod+Y", words: "Redo, by another key", run: (session) => void stepBench(session, "redo") },
  { id: "theme", words: "Theme: dark or light", run: toggleTheme },
  { id: "tray", words: "Tray: show or hide", run: toggleTray },
  { id: "keys", key: "shift+?", words: "Keys: look them up, or change them", run: () => showKeys(ACTIONS) },
  {
    id: "stop",
    key: "Escape",
    words: "Stop the work, put the tool away, or pick nothing",
    run: letGo,
  },
];

/** All commands that have a name or a key. Keys are compared by letter, wherever the keyboard has it. */
export const ACTIONS: readonly Command[] = [
  ...OPERATIONS.filter((op) => op.kind !== "measure").map(
    (op): Command => ({
      id: op.id,
      words: op.title,
      about: op.about,
      ...(op.key ? { key: op.key } : {}),
      ...(op.fits ? { fits: op.fits, short: shortTitle(op) } : {}),
      run: (session) => runOrAsk(session, op),
    }),
  ),
  ...TOOL_COMMANDS,
  ...LOOK_COMMANDS,
  ...NUDGE_COMMANDS,
  ...COMMANDS,
];

/** Keys as they are in this browser, by what they stand for. */
export function useKeys(): ReadonlyMap<string, string> {
  const chosen = useKeyChoices((s) => s.chosen);
  return useMemo(() => keysAfter(ACTIONS, chosen), [chosen]);
}

export const useKeyOf = (id: string): string | undefined => useKeys().get(id);
