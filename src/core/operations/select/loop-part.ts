import { z } from "zod";
import { UserError } from "../../layout/user-error";
import type { Edge } from "../../mesh/indices";
import { loopBetween } from "../../mesh/loops";
import { placesOf } from "../../select/grow";
import { pickFromPicked } from "./pick-beside";

/** Degrees by which a loop may turn where it goes on past triangles. */
const BEND = 60;

/** Picks the part of a loop from one picked edge to another. */
export const loopPart = pickFromPicked({
  id: "pick-loop-part",
  title: "Pick: Part of a loop",
  about: "Picks the part of a loop from one picked edge to another, so that a seam can stop short.",
  kinds: ["edges"],
  options: z.object({}),
  pick({ name, mesh }, _, __, flags) {
    const [a, b, more] = placesOf(flags);
    if (a === undefined || b === undefined || more !== undefined)
      throw new UserError(`Pick two edges of a loop on ${name}: where the part begins and where it ends.`);
    const part =
      loopBetween(mesh, a as Edge, b as Edge) ?? loopBetween(mesh, a as Edge, b as Edge, (BEND * Math.PI) / 180);
    if (!part)
      throw new UserError(
        `No loop leads from one of these edges of ${name} to the other; Path finds the shortest way.`,
      );
    const out = new Uint8Array(flags.length);
    for (const e of part) out[e] = 1;
    return out;
  },
});
