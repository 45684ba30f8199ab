import {
  cycleView,
  enlarge,
  lookFrom,
  nextShading,
  toggleLines,
  toggleSwatch,
  turnLight,
} from "../session/look-actions";
import { AXIS_SIDES, type Bench } from "../session/store";
import type { Command } from "./command";
import { toggleOwnWindow } from "./own-window";

/** Degrees by which a command turns the light. */
const LIGHT_STEP = 30;

/** What the panes show, and how they lie. Keys that are about one pane mean the one the pointer is in. */
export const LOOK_COMMANDS: readonly Command[] = [
  {
    id: "next-view",
    key: "V",
    words: "Next view of the faces, in the pane in use",
    run: ({ bench }) => cycleView(bench),
  },
  {
    id: "swatch",
    key: "shift+V",
    words: "Swatch on or off, in the pane in use",
    run: ({ bench }) => toggleSwatch(bench),
  },
  {
    id: "wires",
    key: "Z",
    words: "Wires on or off, in the pane in use",
    run: ({ bench }) => toggleLines(bench, "wires", bench.getState().inUse),
  },
  {
    id: "seams",
    key: "shift+Z",
    words: "Seams shown or not, in the pane in use",
    run: ({ bench }) => toggleLines(bench, "seams", bench.getState().inUse),
  },
  { id: "next-shading", key: "shift+L", words: "Next shading of Form", run: ({ bench }) => nextShading(bench) },
  { id: "light-left", words: "Light: turn it to the left", run: ({ bench }) => turnLight(bench, -LIGHT_STEP) },
  { id: "light-right", words: "Light: turn it to the right", run: ({ bench }) => turnLight(bench, LIGHT_STEP) },
  {
    id: "enlarge",
    key: "X",
    words: "Enlarge the pane in use, or show both",
    run: ({ bench }) => enlarge(bench, bench.getState().inUse),
  },
  {
    id: "swap-panes",
    key: "shift+X",
    words: "Panes: swap their places",
    run: ({ bench }) => bench.setState(({ swapped }) => ({ swapped: !swapped })),
  },
  {
    id: "stack-panes",
    key: "alt+X",
    words: "Panes: one over the other, or side by side",
    run: ({ bench }) => bench.setState(({ stacked }) => ({ stacked: !stacked })),
  },
  {
    id: "free-space",
    key: "shift+O",
    words: "Free space in Sheet: show or hide",
    run: ({ bench }) => bench.setState(({ freeSpace }) => ({ freeSpace: !freeSpace })),
  },
  {
    id: "unfold-along",
    words: "Unfold after each cut: on or off",
    run: ({ bench }) => bench.setState(({ unfoldsAlong }) => ({ unfoldsAlong: !unfoldsAlong })),
  },
  {
    id: "thread-cuts",
    words: "Thread cuts as it goes: on or off",
    run: ({ bench }) => bench.setState(({ threadCuts }) => ({ threadCuts: !threadCuts })),
  },
  {
    id: "lists-window",
    words: "Lists: into a window of their own, or back",
    run: (session) => toggleOwnWindow(session, "lists"),
  },
  {
    id: "cards-window",
    words: "Cards: into a window of their own, or back",
    run: (session) => toggleOwnWindow(session, "cards"),
  },
  {
    id: "columns",
    key: "shift+H",
    words: "Columns at the sides: show or hide",
    run: ({ bench }) => bench.setState(({ columns }) => ({ columns: !columns })),
  },
  {
    id: "second-view",
    words: "Second view of Form: show or hide",
    run: ({ bench }) => bench.setState(({ inset }) => ({ inset: !inset })),
  },
  {
    id: "readout",
    key: "shift+R",
    words: "Readout of the shell under the pointer: show or hide",
    run: ({ bench }) => bench.setState(({ readout }) => ({ readout: !readout })),
  },
  {
    id: "parallel",
    key: "shift+P",
    words: "Form in parallel view, or in perspective",
    run: ({ bench }) => bench.setState(({ parallel }) => ({ parallel: !parallel })),
  },
  ...AXIS_SIDES.map((side, i) => ({
    id: `look-${side}`,
    key: `alt+${i + 1}`,
    words: `Look at Form from the ${side}`,
    run: ({ bench }: { bench: Bench }) => lookFrom(bench, side),
  })),
];
