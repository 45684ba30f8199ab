import { connectedFaces } from "../../select/grow";
import { pickBeside } from "./pick-beside";

/** Adds every face that hangs together with the picked ones. */
export const connected = pickBeside({
  id: "pick-connected",
  title: "Pick: Connected",
  about: "Adds every face connected to the picked ones, across seams as well.",
  kinds: ["faces"],
  pick: ({ mesh }, _, __, flags) => connectedFaces(mesh, flags),
});
