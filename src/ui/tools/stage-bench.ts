import type { Dab } from "@/core/layout/stroke";
import { addPlot } from "@/core/operations/registry";
import { beginMove, beginPull, beginRelax, cutEdges, runOperation } from "../session/actions";
import type { BenchSession } from "../session/bench-session";
import { takeBranch } from "../session/branches";
import { say } from "../session/say";
import { beginStroke, clearPicked, clickItem, inView, pickMany, pickParts, previewPath } from "../session/selection";
import { type Bench, brushWithin, EMPTY, type Hover, type Pane } from "../session/store";
import { keepThread, layThread, pointThread } from "../session/thread";
import type { Sight, Stage } from "../stage/stage";
import { uvBox } from "../stage/uv-box";
import type { Pointing } from "./gestures";
import { noticeFor } from "./notices";
import { itemAt, itemsSeen, itemsThrough, type Surface, vertexAt } from "./picker";
import { StackClicks } from "./stack-clicks";
import { modeOf, type ToolBench } from "./tool";
import { uvAt } from "./uv-at";

const paneOf = (sight: Sight): Pane => (sight === "sheet" ? "sheet" : "form");

const surfaceOf = (stage: Stage, sight: Sight): Surface => ({
  faceAt: (x, y) => stage.faceAt(sight, x, y),
  facesIn: (region) => stage.facesIn(sight, region),
  pixelMatrix: () => stage.pixelMatrix(sight),
});

/** What the resting pointer and clicks do over a pane of the stage. */
export const stagePointing = ({ bench }: BenchSession, stage: Stage, sight: Sight): Pointing =>
  pointingOn(bench, paneOf(sight), sheetAt(bench, paneOf(sight), surfaceOf(stage, sight)));

/** Pixels within which what is moved snaps to what it keeps to. */
const SNAP_REACH = 10;

/** The bench as tools know it, over a pane of the stage. */
export function stageBench(session: BenchSession, stage: Stage, sight: Sight): ToolBench {
  const surface = surfaceOf(stage, sight);
  const over = benchOver(session.bench, paneOf(sight), surface, () => stage.sheet.view.scale);
  return {
    ...over,
    beginMove: (from) => {
      const [at, scale] = [over.placeAt(from.x, from.y), stage.sheet.view.scale];
      return beginMove(session, at && { at, within: SNAP_REACH / scale });
    },
    beginPull: () => beginPull(session),
    drawPlot: (box) => void runOperation(session, addPlot, box),
    beginRelax: () => beginRelax(session),
    thread: {
      point: (at) => void pointThread(session, at),
      lay: (at) =>
        void layThread(session, at)
          .then((edges) => edges && cutEdges(session, at.shape, edges))
          .catch((e: Error) => say(session.bench, e.message, "refused")),
      keep: () => keepThread(session.bench),
    },
  };
}

/** The bench as tools know it, over anything that tells what it shows. */
export function benchOver(
  bench: Bench,
  pane: Pane,
  surface: Surface,
  scale: () => number,
): Omit<ToolBench, "beginMove" | "beginPull" | "beginRelax" | "drawPlot" | "thread"> {
  const now = () => {
    const { asset, set, kind, hidden } = bench.getState();
    return asset && { asset, set, kind, hidden };
  };
  return {
    pane,
    scale,
    brushRadius: () => bench.getState().brushRadius,
    setBrushRadius: (radius) => bench.setState({ brushRadius: brushWithin(radius) }),
    itemAt(x, y) {
      const state = now();
      return state && itemAt(pane, surface, state, x, y);
    },
    itemsIn(region) {
      const state = now();
      if (!state) return EMPTY;
      const found = (bench.getState().through ? itemsThrough : itemsSeen)(pane, surface, state, region);
      const { alone } = bench.getState();
      if (!alone) return found;
      const shown = [...found].map(([id, items]) => [id, inView({ alone, kind: state.kind }, id, items)] as const);
      return new Map(shown.filter(([, items]) => items.size));
    },
    vertexAt(x, y) {
      const state = now();
      return state && vertexAt(pane, surface, state, x, y);
    },
    placeAt(x, y) {
      if (pane !== "sheet") return null;
      const m = surface.pixelMatrix();
      return [(x - m[12]!) / m[0]!, (y - m[13]!) / m[5]!];
    },
    dabAt(x, y) {
      const { brushRadius } = bench.getState();
      const place = this.placeAt(x, y);
      if (place) return { u: place[0], v: place[1], radius: brushRadius / scale() };
      return dabOnForm(sheetAt(bench, pane, surface), x, y, brushRadius);
    },
    takePoint(x, y) {
      const state = now();
      const hit = state && itemAt(pane, surface, { ...state, kind: "points" }, x, y);
      if (!hit) return false;
      if (!bench.getState().picked.get(hit.shape)?.has(hit.item))
        pickMany(bench, new Map([[hit.shape, [hit.item]]]), "replace");
      return true;
    },
    takeBranch: (at) => takeBranch(bench, at),
    pickIn(region, mode) {
      if (bench.getState().wholeParts) pickParts(bench, new Set(surface.facesIn(region).map((f) => f.part)), mode);
      else pickMany(bench, this.itemsIn(region), mode);
    },
    beginStroke: () => beginStroke(bench),
    pivot() {
      const state = bench.getState();
      const box =
        (state.kind === "shells" || state.kind === "points") && state.picked.size ? uvBox(state, "selection") : null;
      if (!box) return null;
      const [u, v, m] = [(box.u0 + box.u1) / 2, (box.v0 + box.v1) / 2, surface.pixelMatrix()];
      return [m[0]! * u + m[4]! * v + m[12]!, m[1]! * u + m[5]! * v + m[13]!];
    },
    show: (shape) => bench.setState({ overlay: shape && { pane, shape } }),
  };
}

/**
 * The dab on the sheet of a brush that lies on the form. It is as large there as the form is under the brush: the least of
 * what lies to its sides, since beyond a seam the sheet is elsewhere, and what slants away is seen shortened.
 */
function dabOnForm(sheet: SheetAt, x: number, y: number, radius: number): Dab | null {
  const at = sheet.uvAt(x, y);
  if (!at) return null;
  const ways = [
    [radius, 0],
    [-radius, 0],
    [0, radius],
    [0, -radius],
  ] as const;
  const reaches = ways.flatMap(([dx, dy]) => {
    const side = sheet.uvAt(x + dx, y + dy);
    return side ? [Math.hypot(side[0] - at[0], side[1] - at[1])] : [];
  });
  const least = Math.min(...reaches);
  return least > 0 && Number.isFinite(least) ? { u: at[0], v: at[1], radius: least } : null;
}

/** Whether what is shown ahead is a tool's, and not the path of a click with Alt. */
const ownsPreview = (bench: Bench): boolean => {
  const { thread, branches } = bench.getState();
  return thread !== null || branches.length > 0;
};

const sameItem = (a: Hover | null, b: Hover | null): boolean => a?.shape === b?.shape && a?.item === b?.item;

/** What a pane can tell of the sheet at a point of it. */
export interface SheetAt {
  uvAt(x: number, y: number): readonly [number, number] | null;
}

/** What a surface tells of the sheet. */
export const sheetAt = (bench: Bench, pane: Pane, surface: Surface): SheetAt => ({
  uvAt(x, y) {
    const { asset, set, kind, hidden } = bench.getState();
    return asset && uvAt(pane, surface, { asset, set, kind, hidden }, x, y);
  },
});

/** What the resting pointer and clicks do in every state of the panes: light up, pick, take the path or the loop. */
export function pointingOn(bench: Bench, pane: Pane, sheet: SheetAt): Pointing {
  const stacks = new StackClicks(bench);
  return {
    point(hit, at) {
      const { hover, preview } = bench.getState();
      if (!sameItem(hit, hover)) bench.setState({ hover: hit });
      if (readsUv(bench, pane)) bench.setState({ hoverUv: sheet.uvAt(at.x, at.y) });
      if (hit && at.alt) previewPath(bench, hit.shape, hit.item);
      else if (preview.size && !ownsPreview(bench)) bench.setState({ preview: EMPTY });
    },
    click(hit, at) {
      const mode = modeOf(at);
      bench.setState({ notice: null, stack: null });
      const uv = pane === "sheet" ? sheet.uvAt(at.x, at.y) : null;
      const { wholeParts } = bench.getState();
      if (!wholeParts && hit && uv && stacks.click(hit, uv, { ...at, pane })) return;
      if (wholeParts && hit?.part !== undefined) pickParts(bench, [hit.part], mode);
      else if (hit) clickItem(bench, hit.shape, hit.item, mode, at.alt ? "path" : "single");
      else if (mode === "replace") clearPicked(bench);
      bench.setState({ notice: noticeFor(bench.getState(), hit, uv, { x: at.x, y: at.y, pane }) });
    },
    doubleClick: (hit, at) => clickItem(bench, hit.shape, hit.item, modeOf(at), "loop"),
    leave: () => bench.setState({ hover: null, hoverUv: null, ...(ownsPreview(bench) ? {} : { preview: EMPTY }) }),
  };
}

/** Whether something shows where on the sheet the pointer is. */
const readsUv = (bench: Bench, pane: Pane): boolean => {
  const { readout, view } = bench.getState();
  return readout || view[pane] === "swatch";
};
