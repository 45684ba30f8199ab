import { SHADING_IDS, SHADINGS, VIEW_IDS, type View } from "./look-choices";
import { say } from "./say";
import type { AxisSide, Bench, Pane } from "./store";

/** The one after a value in a list, and after the last the first. */
const after = <T>(list: readonly T[], value: T): T => list[(list.indexOf(value) + 1) % list.length]!;

export const cycleView = (bench: Bench): void =>
  bench.setState(({ view, inUse }) => ({ view: { ...view, [inUse]: after(VIEW_IDS, view[inUse]) } }));

/** Turns the swatch of the pane in use on, or back to shaded. */
export const toggleSwatch = (bench: Bench): void =>
  bench.setState(({ view, inUse }) => ({
    view: { ...view, [inUse]: view[inUse] === "swatch" ? "shaded" : "swatch" },
  }));

/** Shows lines of a sort in a pane, or no longer. */
export const toggleLines = (bench: Bench, what: "wires" | "seams", pane: Pane): void =>
  bench.setState((s) => ({ [what]: { ...s[what], [pane]: !s[what][pane] } }));

/** What the faces of a pane show. */
export const showView = (bench: Bench, pane: Pane, shown: View): void =>
  bench.setState(({ view }) => ({ view: { ...view, [pane]: shown } }));

export function nextShading(bench: Bench): void {
  const shading = after(SHADING_IDS, bench.getState().shading);
  bench.setState({ shading });
  say(bench, `Form is drawn as: ${SHADINGS[shading]}.`);
}

/** Turns the light; once round it is where it was. */
export const turnLight = (bench: Bench, by: number): void =>
  bench.setState(({ lightTurn }) => ({ lightTurn: ((lightTurn + by + 540) % 360) - 180 }));

/** Enlarges a pane to the whole place of both, or brings the other back. */
export const enlarge = (bench: Bench, pane: Pane): void =>
  bench.setState(({ panes }) => ({ panes: panes === "both" ? pane : "both", inUse: pane }));

export const lookFrom = (bench: Bench, side: AxisSide): void =>
  bench.setState(({ lookFrom: { count } }) => ({ lookFrom: { side, count: count + 1 } }));
