import { z } from "zod";
import { getBit } from "../../layout/bits";
import { worldPositions } from "../../mesh/transform";
import { edgeAngles } from "../../seams/edge-cost";
import { connectedFaces } from "../../select/grow";
import { pickFromPicked } from "./pick-beside";

const options = z.object({
  angle: z
    .number()
    .min(0)
    .max(180)
    .default(20)
    .meta({ title: "Bend", description: "It ends at edges that bend more than this", unit: "°" }),
  seams: z.boolean().default(true).meta({ title: "Stay inside seams", description: "It ends at seams as well" }),
});

/** Adds the faces that go on from the picked ones without a sharp bend. */
export const flatRegion = pickFromPicked({
  id: "pick-flat-region",
  title: "Pick: Flat region",
  about: "Adds every face that goes on from the picked ones without a bend sharper than an angle.",
  kinds: ["faces"],
  options,
  pick({ mesh, metric }, layout, _, flags, { angle, seams }) {
    const angles = edgeAngles(mesh, worldPositions(mesh, metric));
    // A hair more than asked for: edges that bend by just as much are in, however they are rounded.
    const most = (angle * Math.PI) / 180 + 1e-6;
    return connectedFaces(mesh, flags, (e) => angles[e]! <= most && !(seams && getBit(layout.cut, e)));
  },
});
