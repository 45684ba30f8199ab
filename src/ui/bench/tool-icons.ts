import {
  IconArrowsMove,
  IconBrush,
  IconFrame,
  IconGitBranch,
  IconHandGrab,
  IconLasso,
  IconMarquee2,
  IconResize,
  IconRipple,
  IconRotate,
  IconRoute,
} from "@tabler/icons-react";
import type { ComponentType } from "react";

/** The picture of every tool, by its name. */
export const TOOL_ICONS: Readonly<Record<string, ComponentType<{ size: number }>>> = {
  box: IconMarquee2,
  lasso: IconLasso,
  brush: IconBrush,
  thread: IconRoute,
  branches: IconGitBranch,
  move: IconArrowsMove,
  turn: IconRotate,
  scale: IconResize,
  pull: IconHandGrab,
  relax: IconRipple,
  plot: IconFrame,
};
