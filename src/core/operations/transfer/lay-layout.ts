import { z } from "zod";
import { type EditOperation, loaded } from "../operation";

/** Lays the layout of another copy of the mesh, or a layout written alone, on the parts of the asset. */
export const layLayout: EditOperation<Record<string, never>> = {
  id: "lay-layout",
  title: "Lay a layout on",
  about:
    "Takes the layout of a file with the same mesh, or a layout exported alone, into the target UV set. The mesh stays as it is.",
  kind: "edit",
  stage: "brief",
  moves: true,
  heading: "Files",
  acts: "parts",
  needs: "file",
  big: true,
  options: z.object({}),
  run: loaded(() => import("../large/lay-layout")),
};
