import type { AnyOperation } from "../operation";
import { addPlot } from "./add-plot";
import { alignShells } from "./align-shells";
import { bringBack } from "./bring-back";
import { copiesAway } from "./copies-away";
import { intoFree } from "./into-free";
import { layLike } from "./lay-like";
import { leftAndRight } from "./left-and-right";
import { lettering } from "./lettering";
import { mirrorShells } from "./mirror-shells";
import { nudge } from "./nudge";
import { park } from "./park";
import { removePlots } from "./remove-plots";
import { setBeside } from "./set-beside";
import { spaceOut } from "./space-out";
import { spreadStacks } from "./spread-stacks";
import { stackTwins } from "./stack-twins";

/** What arranges shells on the sheet, and stacks them, in the order in which it is shown. */
export const ARRANGING: readonly AnyOperation[] = [
  nudge,
  mirrorShells,
  alignShells,
  spaceOut,
  intoFree,
  setBeside,
  park,
  bringBack,
  stackTwins,
  spreadStacks,
  copiesAway,
  lettering,
  layLike,
  leftAndRight,
  addPlot,
  removePlots,
];
