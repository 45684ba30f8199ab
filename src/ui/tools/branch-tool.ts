import { boxTool } from "./box-tool";
import type { Tool } from "./tool";

/** Shows every way on from where the picked edges end, and takes those that are clicked. */
export const branchTool: Tool = {
  id: "branches",
  title: "Branches",
  about: "Shows every way on from the ends of the picked edges; a click takes one, Enter takes all.",
  key: "N",
  cursor: "pointer",
  works: "edges",
  click(bench, at) {
    const hit = bench.itemAt(at.x, at.y);
    return hit !== null && !at.ctrl && bench.takeBranch(hit);
  },
  begin: boxTool.begin,
};
