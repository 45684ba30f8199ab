import { boxTool } from "./box-tool";
import type { Tool } from "./tool";

/** Shows every way on from where the picked edges end, and takes those that are clicked. */
export const branchTool: Tool = {
  id: "branches",
  title: "Branches",
  about: "A click takes one of the ways on from where the picked edges end, Enter takes all.",
  key: "N",
  cursor: "pointer",
  works: ["edges"],
  click(bench, at) {
    const hit = bench.itemAt(at.x, at.y);
    return hit !== null && !at.ctrl && bench.takeBranch(hit);
  },
  begin: boxTool.begin,
};
