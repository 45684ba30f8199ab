import { dabWords, MOST_DABS } from "@/core/layout/stroke";
import { disc, resizing } from "./brush-tool";
import type { At, Drag, Tool, ToolBench } from "./tool";

/** Of the brush's radius, how far apart the dabs of a stroke lie. */
const APART = 1 / 3;
/** Milliseconds between the dabs of a brush that rests on the sheet. */
const RESTING = 60;

/** Relaxes what the brush passes over, and goes on where it rests. */
function stroke(bench: ToolBench, from: At): Drag {
  const dabs: string[] = [];
  const apart = APART * bench.brushRadius();
  const begun = bench.beginRelax();
  let live: Awaited<typeof begun> = null;
  let last = from;
  const dab = (x: number, y: number) => {
    const at = bench.dabAt(x, y);
    if (at && dabs.length < MOST_DABS) dabs.push(dabWords(at));
  };
  const all = () => ({ stroke: dabs.join(", ") });
  dab(from.x, from.y);
  void begun.then((work) => {
    live = work;
    live?.update(all());
  });
  // What is still being worked off is not made more of.
  const timer = setInterval(() => {
    if (!live || live.isBusy()) return;
    dab(last.x, last.y);
    live.update(all());
  }, RESTING);
  return {
    move(at) {
      bench.show(disc(bench, at));
      const steps = Math.floor(Math.hypot(at.x - last.x, at.y - last.y) / apart);
      for (let k = 1; k <= steps; k++)
        dab(last.x + ((at.x - last.x) * k) / steps, last.y + ((at.y - last.y) * k) / steps);
      if (!steps) return;
      last = at;
      live?.update(all());
    },
    end(at) {
      clearInterval(timer);
      bench.show(disc(bench, at));
      void begun.then((work) => work?.commit(all()));
    },
    drop() {
      clearInterval(timer);
      bench.show(null);
      void begun.then((work) => work?.drop());
    },
  };
}

/** Evens out what is brushed over. */
export const relaxTool: Tool = {
  id: "relax",
  title: "Relax brush",
  about:
    "A drag in either pane evens out the UV points that it passes over, or smooths them; [ and ], or a drag with Alt, make it smaller and larger.",
  key: "shift+S",
  cursor: "none",
  resting: disc,
  begin(bench, from) {
    if (from.alt) return resizing(bench, from);
    return bench.dabAt(from.x, from.y) ? stroke(bench, from) : null;
  },
};
