import { PLAIN_TOOL } from "../session/store";
import { boxRegion } from "./region";
import { modeOf, type Tool } from "./tool";

/** The plain state: a drag picks what lies in a box. */
export const boxTool: Tool = {
  id: PLAIN_TOOL,
  title: "Pick",
  about: "Click picks, a drag picks what lies in its box.",
  key: "Q",
  cursor: "default",
  begin(bench, from) {
    const show = (x: number, y: number) => bench.show({ kind: "box", box: boxRegion(from.x, from.y, x, y).box });
    return {
      move: ({ x, y }) => show(x, y),
      end(at) {
        bench.show(null);
        bench.pickIn(boxRegion(from.x, from.y, at.x, at.y), modeOf(at));
      },
      drop: () => bench.show(null),
    };
  },
};
