import { type Edge, indices } from "../../mesh/indices";
import { worldPositions } from "../../mesh/transform";
import { joiningEdges } from "../../mesh/walks";
import { edgeLengths } from "../../seams/edge-cost";
import { placesOf } from "../../select/grow";
import { pickBeside } from "./pick-beside";

/** Adds the shortest ways by which the picked edges are joined. */
export const paths = pickBeside({
  id: "pick-path",
  title: "Pick: Path",
  about: "Adds the shortest paths that connect the picked edges of a part, nearest first.",
  kinds: ["edges"],
  fits: ["edges"],
  pick: ({ mesh, metric }, _, __, flags) => {
    const lengths = edgeLengths(mesh, worldPositions(mesh, metric));
    const out = flags.slice();
    for (const e of joiningEdges(mesh, lengths, indices<Edge>(placesOf(flags)))) out[e] = 1;
    return out;
  },
});
