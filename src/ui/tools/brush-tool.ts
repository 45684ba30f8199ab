import { discRegion } from "./region";
import { type At, modeOf, type Tool } from "./tool";

export const BRUSH_RADIUS = 18;

export const brushTool: Tool = {
  id: "brush",
  title: "Brush",
  about: "A drag picks what it passes over.",
  key: "S",
  cursor: "none",
  begin(bench, from) {
    let last = from;
    let mode = modeOf(from);
    const dab = ({ x, y }: { x: number; y: number }) => {
      bench.pick(bench.itemsIn(discRegion(x, y, BRUSH_RADIUS)), mode);
      // A stroke that replaces what was picked does so with its first dab.
      if (mode === "replace") mode = "add";
    };
    dab(from);
    return {
      move(at: At) {
        bench.show({ kind: "disc", x: at.x, y: at.y, radius: BRUSH_RADIUS });
        const way = Math.hypot(at.x - last.x, at.y - last.y);
        // A quick stroke leaves no gaps.
        const steps = Math.ceil(way / BRUSH_RADIUS);
        for (let k = 1; k <= steps; k++)
          dab({ x: last.x + ((at.x - last.x) * k) / steps, y: last.y + ((at.y - last.y) * k) / steps });
        if (steps) last = at;
      },
      end: () => bench.show(null),
      drop: () => bench.show(null),
    };
  },
};
