import { proposeBorders } from "./propose-borders";

/** Proposes seams where two groups of faces meet. */
export const byGroup = proposeBorders(
  {
    id: "by-group",
    title: "Propose seams: By group",
    about: "Sets seams where two groups of faces meet, as the file has them.",
  },
  "groups",
);
