import { GRID_STEP } from "@/core/layout/snap-targets";
import type { LiveMove } from "../session/live-move";
import type { Motion } from "../session/store";
import type { At, Drag, Grip, Tool, ToolBench } from "./tool";

const STILL: Motion = { du: 0, dv: 0, turn: 0, scale: 1 };
/** Degrees that a turn keeps to with Shift. */
const STEP = 15;
const LEAST_SCALE = 0.01;

/** Steps that a scale keeps to with Alt: tenths. */
const TENTH = 0.1;
const toStep = (x: number, step: number): number => Math.round(x / step) * step;

/**
 * What a drag from one place to another means. Shift keeps a move to one axis and a turn to steps; Alt keeps a move to
 * the steps of the grid, a turn and a scale to theirs.
 */
export function motionOf(grip: Grip, from: At, at: At, [px, py]: readonly [number, number], scale: number): Motion {
  if (grip === "move") {
    const way = [(at.x - from.x) / scale, (from.y - at.y) / scale];
    const [du, dv] = (at.alt ? way.map((x) => toStep(x, GRID_STEP)) : way) as [number, number];
    if (!at.shift) return { ...STILL, du, dv };
    return Math.abs(du) > Math.abs(dv) ? { ...STILL, du } : { ...STILL, dv };
  }
  if (grip === "turn") {
    const angle = (p: At) => Math.atan2(py - p.y, p.x - px);
    const degrees = ((angle(at) - angle(from)) * 180) / Math.PI;
    return { ...STILL, turn: at.shift || at.alt ? toStep(degrees, STEP) : degrees };
  }
  const away = (p: At) => {
    if (grip === "scale-u") return Math.abs(p.x - px);
    return grip === "scale-v" ? Math.abs(p.y - py) : Math.hypot(p.x - px, p.y - py);
  };
  const times = away(at) / (away(from) || 1);
  const by = Math.max(LEAST_SCALE, at.alt ? toStep(times, TENTH) : times);
  if (grip === "scale-u") return { ...STILL, scaleU: by };
  return grip === "scale-v" ? { ...STILL, scaleV: by } : { ...STILL, scale: by };
}

/** Lets the picked shells or points follow the pointer: the host previews every motion, and the last becomes one step. */
export function transformDrag(
  bench: ToolBench,
  grip: Grip,
  from: At,
  begin: () => Promise<LiveMove | null> = () => bench.beginMove(from),
): Drag | null {
  const pivot = bench.pane === "sheet" ? bench.pivot() : null;
  if (!pivot) return null;
  let motion = STILL;
  let dropped = false;
  let live: Promise<LiveMove | null> | null = null;
  const whenLive = (act: (live: LiveMove) => void) => void live?.then((l) => l && act(l));
  return {
    move(at) {
      motion = motionOf(grip, from, at, pivot, bench.scale());
      bench.show({ kind: "motion", motion });
      live ??= begin();
      const next = motion;
      whenLive((l) => !dropped && next === motion && l.update(next));
    },
    end() {
      const shown = live?.then((l) => l?.commit(motion));
      // The handles stay where the shells are shown until those are there in the document.
      void (shown ?? Promise.resolve()).finally(() => bench.show(null));
    },
    drop() {
      dropped = true;
      bench.show(null);
      whenLive((l) => l.drop());
    },
  };
}

const transformTool = (id: Grip, title: string, key: string, about: string, cursor: string): Tool => ({
  id,
  title,
  key,
  about,
  cursor,
  works: ["shells", "points"],
  fades: true,
  begin: (bench, from) => transformDrag(bench, id, from),
});

export const moveTool = transformTool(
  "move",
  "Move",
  "W",
  "A drag in Sheet moves the picked shells or UV points; Alt keeps to the grid, Shift to one axis.",
  "move",
);
export const turnTool = transformTool(
  "turn",
  "Turn",
  "E",
  "A drag in Sheet turns the picked shells or UV points; Shift keeps to steps.",
  "grab",
);
export const scaleTool = transformTool(
  "scale",
  "Scale",
  "R",
  "A drag in Sheet scales the picked shells or UV points; Alt keeps to tenths.",
  "nwse-resize",
);

/** Takes hold of a point; its shell opens up after it. */
export const pullTool: Tool = {
  id: "pull",
  title: "Pull",
  key: "shift+W",
  about:
    "A drag in Sheet pulls a UV point, or all that are picked, pins among them, and their shells follow; other pins stay.",
  cursor: "grab",
  works: ["points"],
  begin(bench, from) {
    if (bench.pane !== "sheet" || !bench.takePoint(from.x, from.y)) return null;
    return transformDrag(bench, "move", from, () => bench.beginPull());
  },
};
