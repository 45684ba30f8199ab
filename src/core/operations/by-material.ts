import { proposeBorders } from "./propose-borders";

/** Proposes seams where two materials meet. */
export const byMaterial = proposeBorders(
  {
    id: "by-material",
    title: "Propose seams: By material",
    about: "Sets seams where two materials meet: the texture changes there anyway.",
  },
  "materials",
);
