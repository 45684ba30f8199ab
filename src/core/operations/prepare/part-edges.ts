import { repairOperation } from "./repair";

/** Gives the faces at edges with three or more of them vertices of their own, so that they come apart there. */
export const partManyFaced = repairOperation({
  id: "part-edges",
  title: "Part edges with many faces",
  about: "Gives the faces at edges with three or more of them vertices of their own, so that they come apart there.",
  mends: { faults: { manyFaced: {} } },
  nothing: "No edge has three or more faces.",
  mend: (repairs, shape, culprits) => repairs.partEdges(shape, culprits("manyFaced")),
});
