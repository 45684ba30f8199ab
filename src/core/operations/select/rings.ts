import type { Edge } from "../../mesh/indices";
import { edgeRing } from "../../mesh/walks";
import { pickBeside } from "./pick-beside";
import { walked } from "./walked";

/** Adds the rings that the picked edges lie in. */
export const rings = pickBeside({
  id: "pick-rings",
  title: "Pick: Ring",
  about: "Adds the rings of the picked edges: from each face of four corners to its opposite edge, and on.",
  kinds: ["edges"],
  fits: ["edges"],
  pick: ({ mesh }, _, __, flags) => walked(flags, (e) => edgeRing(mesh, e as Edge)),
});
