import { repairOperation } from "./repair";

/** Flips faces so that neighbours are wound alike; closed shapes face outwards. */
export const windFacesAlike = repairOperation({
  id: "wind-alike",
  title: "Wind faces alike",
  about: "Flips faces so that neighbours are wound alike; closed shapes face outwards.",
  mends: { faults: { winding: {} } },
  nothing: "All faces are wound alike.",
  mend: (repairs, shape) => repairs.windAlike(shape),
});
