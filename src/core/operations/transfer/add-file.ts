import { z } from "zod";
import { type EditOperation, loaded } from "../operation";

/** Adds the parts of another file; their shells are parked beside the layout at its density. */
export const addFile: EditOperation<Record<string, never>> = {
  id: "add-file",
  title: "Add a file",
  about: "Adds the parts of another file. Their shells lie beside the layout at its density; nothing else moves.",
  kind: "edit",
  stage: "brief",
  heading: "Files",
  acts: "asset",
  needs: "file",
  big: true,
  locked: "may",
  options: z.object({}),
  run: loaded(() => import("../large/add-file")),
};
