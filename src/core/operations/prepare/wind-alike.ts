import { repairOperation } from "./repair";

/** Turns faces over so that neighbours run alike; closed shapes face outwards. */
export const windFacesAlike = repairOperation({
  id: "wind-alike",
  title: "Wind faces alike",
  about: "Turns faces over so that neighbours run alike; closed shapes face outwards.",
  mends: { faults: { winding: {} } },
  nothing: "All faces are wound alike.",
  mend: (repairs, shape) => repairs.windAlike(shape),
});
