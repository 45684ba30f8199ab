import { z } from "zod";
import type { Edge } from "../../mesh/indices";
import { edgeLoop } from "../../mesh/loops";
import { pickFromPicked } from "./pick-beside";
import { walked } from "./walked";

const options = z.object({
  bend: z.number().min(0).max(90).default(0).meta({
    title: "Go on",
    description:
      "Past triangles and where many edges meet, by the edge that turns least, up to this angle; 0 ends there",
    unit: "°",
  }),
});

/** Adds the loops that the picked edges lie in. */
export const loops = pickFromPicked({
  id: "pick-loops",
  title: "Pick: Loop",
  about: "Adds the loops of the picked edges: straight on where four edges meet, along the border on borders.",
  kinds: ["edges"],
  fits: ["edges"],
  options,
  pick: ({ mesh }, _, __, flags, { bend }) => walked(flags, (e) => edgeLoop(mesh, e as Edge, (bend * Math.PI) / 180)),
});
