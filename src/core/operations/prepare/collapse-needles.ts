import { repairOperation } from "./repair";

/** Joins the ends of the shortest side of needle faces. */
export const collapseNeedleFaces = repairOperation({
  id: "collapse-needles",
  title: "Collapse needles",
  about: "Joins the ends of the shortest side of needle faces.",
  mends: { faults: { needles: {} } },
  nothing: "There is no needle with a short side.",
  mend: (repairs, shape, culprits) => repairs.collapseNeedles(shape, culprits("needles")),
});
