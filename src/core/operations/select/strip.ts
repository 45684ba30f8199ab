import { z } from "zod";
import { UserError } from "../../layout/user-error";
import type { Face } from "../../mesh/indices";
import { stripBetween } from "../../mesh/strips";
import { placesOf } from "../../select/grow";
import { pickFromPicked } from "./pick-beside";

/** Picks the row of faces that two picked ones lie in. */
export const strip = pickFromPicked({
  id: "pick-strip",
  title: "Pick: Strip",
  about:
    "Picks the row of quads that two picked faces lie in: the whole row of two neighbours, else what lies between.",
  kinds: ["faces"],
  fits: ["faces"],
  options: z.object({}),
  pick({ name, mesh }, _, __, flags) {
    const [a, b, more] = placesOf(flags);
    if (a === undefined || b === undefined || more !== undefined)
      throw new UserError(
        `Pick two faces of a row on ${name}: neighbours for all of it, others for what lies between.`,
      );
    const faces = stripBetween(mesh, a as Face, b as Face);
    if (!faces) throw new UserError(`No row of quads leads from one of these faces of ${name} to the other.`);
    const out = new Uint8Array(flags.length);
    for (const f of faces) out[f] = 1;
    return out;
  },
});
