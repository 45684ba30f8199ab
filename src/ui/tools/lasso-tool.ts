import { lassoRegion } from "./region";
import { modeOf, type Tool } from "./tool";

/** Pixels between two points of the line that are kept. */
const APART = 3;

export const lassoTool: Tool = {
  id: "lasso",
  title: "Lasso",
  about: "A drag picks what its line runs around.",
  key: "A",
  cursor: "crosshair",
  begin(bench, from) {
    const line: Array<readonly [number, number]> = [[from.x, from.y]];
    return {
      move({ x, y }) {
        const [lx, ly] = line.at(-1)!;
        if (Math.hypot(x - lx, y - ly) < APART) return;
        line.push([x, y]);
        bench.show({ kind: "line", points: [...line] });
      },
      end(at) {
        bench.show(null);
        line.push([at.x, at.y]);
        if (line.length > 2) bench.pickIn(lassoRegion(line), modeOf(at));
      },
      drop: () => bench.show(null),
    };
  },
};
