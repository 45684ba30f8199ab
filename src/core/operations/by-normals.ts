import { proposeBorders } from "./propose-borders";

/** Proposes seams along hard edges. */
export const byNormals = proposeBorders(
  {
    id: "by-normals",
    title: "Propose seams: By normals",
    about: "Sets seams along hard edges, where the file's normals differ on the two sides.",
  },
  "normals",
);
