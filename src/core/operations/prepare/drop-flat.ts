import { repairOperation } from "./repair";

/** Removes faces without area, and repeated vertices from faces. */
export const dropFlatFaces = repairOperation({
  id: "drop-flat",
  title: "Remove faces without area",
  about: "Removes faces without area, and repeated vertices from faces.",
  mends: { faults: { flat: {} } },
  nothing: "Every face has an area and no vertex twice.",
  mend: (repairs, shape, culprits) => repairs.dropFlat(shape, culprits("flat")),
});
