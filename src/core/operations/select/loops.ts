import type { Edge } from "../../mesh/indices";
import { edgeLoop } from "../../mesh/walks";
import { pickBeside } from "./pick-beside";
import { walked } from "./walked";

/** Adds the loops that the picked edges lie in. */
export const loops = pickBeside({
  id: "pick-loops",
  title: "Pick: Loop",
  about: "Adds the loops of the picked edges: straight on where four edges meet, along the border on borders.",
  kinds: ["edges"],
  fits: ["edges"],
  pick: ({ mesh }, _, __, flags) => walked(flags, (e) => edgeLoop(mesh, e as Edge)),
});
