import type { BriefPage } from "../session/store";

/** Operations whose cards stand on the pages of Brief. */
export const BRIEF_PAGES: Record<BriefPage, readonly string[]> = {
  report: ["set-unit", "set-resolution", "pick-doubled", "join-doubled"],
  parts: [
    "move-part",
    "set-pivot",
    "apply-transform",
    "split-off",
    "unite",
    "merge-parts",
    "separate-parts",
    "transfer",
    "mirror-half",
    "pick-similar",
    "pick-by-material",
  ],
  files: ["add-file", "replace-mesh", "lay-layout"],
};
