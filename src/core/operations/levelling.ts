import { gradeDensity } from "./grade-density";
import { level } from "./level";
import type { AnyOperation } from "./operation";
import { partUp } from "./parts/part-up";
import { densityRatio } from "./place/density-ratio";
import { followNap } from "./place/follow-nap";
import { standUpright } from "./place/stand-upright";
import { pickLeastSeen } from "./select/pick-least-seen";
import { pickNotUpright } from "./select/pick-not-upright";

/** What brings shells to a density and stands them upright, in the order in which it is shown. */
export const LEVELLING: readonly AnyOperation[] = [
  level,
  densityRatio,
  gradeDensity,
  pickLeastSeen,
  standUpright,
  followNap,
  partUp,
  pickNotUpright,
];
