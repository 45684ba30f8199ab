import { z } from "zod";
import { type EditOperation, loaded } from "../operation";

/** Puts a newer file under the asset: what holds of the layout is kept, what does not is picked. */
export const replaceMesh: EditOperation<Record<string, never>> = {
  id: "replace-mesh",
  title: "Replace the mesh",
  about:
    "Puts a newer version of the file under the asset. Layouts are kept where the faces are as they were; the others get coordinates from the nearest surface and are picked.",
  kind: "edit",
  movesPins: true,
  stage: "brief",
  heading: "Files",
  acts: "asset",
  needs: "file",
  big: true,
  options: z.object({}),
  run: loaded(() => import("../large/replace-mesh")),
};
