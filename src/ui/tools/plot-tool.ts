import { boxRegion } from "./region";
import type { Tool } from "./tool";

/** Pixels that a plot has at the least: less was a click. */
const LEAST = 6;

/** Draws plots: in Form, where there are none, it picks. */
export const plotTool: Tool = {
  id: "plot",
  title: "Plot",
  about: "A drag in Sheet draws a plot, snapped to eighths of the tile; Ctrl draws it freely.",
  key: "shift+D",
  cursor: "crosshair",
  begin(bench, from) {
    if (bench.pane !== "sheet") return null;
    const show = (x: number, y: number) => bench.show({ kind: "box", box: boxRegion(from.x, from.y, x, y).box });
    return {
      move: ({ x, y }) => show(x, y),
      end(at) {
        bench.show(null);
        if (Math.abs(at.x - from.x) < LEAST || Math.abs(at.y - from.y) < LEAST) return;
        const [a, b] = [bench.placeAt(from.x, from.y)!, bench.placeAt(at.x, at.y)!];
        const on = (x: number) => (at.ctrl ? x : Math.round(8 * x) / 8);
        const box = { u0: on(a[0]), v0: on(a[1]), u1: on(b[0]), v1: on(b[1]) };
        // Within one eighth it was meant as it is drawn.
        bench.drawPlot(box.u0 === box.u1 || box.v0 === box.v1 ? { u0: a[0], v0: a[1], u1: b[0], v1: b[1] } : box);
      },
      drop: () => bench.show(null),
    };
  },
};
