import type { Overlay } from "../session/store";
import { discRegion } from "./region";
import { type At, type Drag, modeOf, type Tool, type ToolBench } from "./tool";

/** Where the brush is, to be shown. */
export const disc = (bench: ToolBench, { x, y }: At): Overlay => ({ kind: "disc", x, y, radius: bench.brushRadius() });

/** Makes the brush larger by a drag to the right, and smaller by one to the left; its middle stays. */
export function resizing(bench: ToolBench, from: At): Drag {
  const before = bench.brushRadius();
  return {
    move(at) {
      bench.setBrushRadius(before + at.x - from.x);
      bench.show(disc(bench, from));
    },
    end: (at) => bench.show(disc(bench, at)),
    drop() {
      bench.setBrushRadius(before);
      bench.show(null);
    },
  };
}

export const brushTool: Tool = {
  id: "brush",
  title: "Brush",
  about: "A drag picks what it passes over; [ and ], or a drag with Alt, make it smaller and larger.",
  key: "S",
  cursor: "none",
  resting: disc,
  begin(bench, from) {
    if (from.alt) return resizing(bench, from);
    let last = from;
    let mode = modeOf(from);
    const radius = bench.brushRadius();
    const stroke = bench.beginStroke();
    const dab = (x: number, y: number) => {
      stroke.pick(bench.itemsIn(discRegion(x, y, radius)), mode);
      // A stroke that replaces what was picked does so with its first dab.
      if (mode === "replace") mode = "add";
    };
    dab(from.x, from.y);
    return {
      move(at) {
        bench.show(disc(bench, at));
        // A quick stroke leaves no gaps.
        const steps = Math.ceil(Math.hypot(at.x - last.x, at.y - last.y) / radius);
        for (let k = 1; k <= steps; k++)
          dab(last.x + ((at.x - last.x) * k) / steps, last.y + ((at.y - last.y) * k) / steps);
        if (steps) last = at;
      },
      end(at) {
        stroke.end();
        bench.show(disc(bench, at));
      },
      drop() {
        stroke.drop();
        bench.show(null);
      },
    };
  },
};
