import { boxTool } from "./box-tool";
import type { Tool } from "./tool";

/** Lays a path of edges from click to click; with Shift or Ctrl a click picks as ever. */
export const threadTool: Tool = {
  id: "thread",
  title: "Thread",
  about: "A click lays a path on to there, Backspace takes it back, Enter picks it.",
  key: "Y",
  cursor: "crosshair",
  works: ["edges"],
  point: (bench, at) => bench.thread.point(at && bench.vertexAt(at.x, at.y)),
  click(bench, at) {
    if (at.shift || at.ctrl) return false;
    const stop = bench.vertexAt(at.x, at.y);
    if (stop) bench.thread.lay(stop);
    // Beside everything a click does nothing: what was laid stays.
    return true;
  },
  doubleClick(bench) {
    bench.thread.keep();
    return true;
  },
  begin: boxTool.begin,
};
