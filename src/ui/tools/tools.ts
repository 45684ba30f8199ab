import { boxTool } from "./box-tool";
import { branchTool } from "./branch-tool";
import { brushTool } from "./brush-tool";
import { lassoTool } from "./lasso-tool";
import { plotTool } from "./plot-tool";
import { relaxTool } from "./relax-tool";
import { threadTool } from "./thread-tool";
import type { Tool } from "./tool";
import { moveTool, pullTool, scaleTool, turnTool } from "./transform-tools";

/** The states of the panes; the first is the plain one. */
export const TOOLS: readonly Tool[] = [
  boxTool,
  lassoTool,
  brushTool,
  threadTool,
  branchTool,
  moveTool,
  turnTool,
  scaleTool,
  pullTool,
  relaxTool,
  plotTool,
];

export const toolNamed = (id: string): Tool => TOOLS.find((t) => t.id === id) ?? boxTool;
