import { z } from "zod";
import { rimEdges } from "../../select/convert";
import { pickFromPicked } from "./pick-beside";

/** Picks the edges round what is picked. */
export const rim = pickFromPicked({
  id: "pick-rim",
  title: "Pick: Rim",
  about: "Picks the edges round the picked faces or shells, as a seam round them would run.",
  kinds: ["faces", "shells"],
  options: z.object({}),
  into: () => "edges",
  pick: ({ mesh }, layout, kind, flags) => rimEdges(mesh, layout, kind === "shells" ? kind : "faces", flags),
});
