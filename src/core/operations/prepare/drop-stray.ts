import { repairOperation } from "./repair";

/** Removes vertices that no face uses. */
export const dropStrayVertices = repairOperation({
  id: "drop-stray",
  title: "Remove stray vertices",
  about: "Removes vertices that no face uses.",
  mends: { faults: { stray: {} } },
  nothing: "There is no stray vertex.",
  mend: (repairs, shape, culprits) => repairs.dropStray(shape, culprits("stray")),
});
