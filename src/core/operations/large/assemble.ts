import type { Asset, PlacedShape } from "../../layout/asset";
import type { Apart } from "../../layout/seam-wishes";
import { UserError } from "../../layout/user-error";
import { edgeAngles } from "../../seams/edge-cost";
import type { Source } from "../../seams/piece";
import { JOINS } from "../../seams/seam-moves";
import type { EditContext, EditResult, Scope } from "../operation";
import { count } from "../words";
import { shortenedShapes } from "./shortened-shapes";

/** Edges from which on faces are kept apart at creases, radians. */
const CREASE = Math.PI / 3;

/** Whether a seam stays, by what shells are kept apart at. */
export function keptApart(apart: Apart, { mesh }: PlacedShape, { topology: t, world }: Source): (e: number) => boolean {
  if (apart === "nothing") return () => false;
  if (apart === "creases") {
    const angles = edgeAngles(mesh, world);
    return (e) => angles[e]! >= CREASE;
  }
  const of = apart === "materials" ? mesh.faceMaterial : mesh.faceGroup;
  return (e) => {
    const k = t.edgeCornerStart[e]!;
    return of[t.cornerFace[t.edgeCorners[k]!]!] !== of[t.cornerFace[t.edgeCorners[k + 1]!]!];
  };
}

/** Joins shells along their longest shared borders. */
export async function run(
  asset: Asset,
  scope: Scope,
  { limit, wish, apart }: { readonly limit: number; readonly wish: number; readonly apart: Apart },
  context: EditContext,
): Promise<EditResult> {
  const wanted = { limit, wish, kinds: JOINS, byLength: true };
  const done = await shortenedShapes(asset, scope, wanted, (shape, source) => keptApart(apart, shape, source), context);
  if (done.asset === asset)
    throw new UserError(done.notes[0]?.words ?? "None of these shells can be joined within that limit of stretch.");
  const [before, after] = done.shells;
  const words = `Assemble ${count(before, "shell")} to ${after}${done.stopped ? ", stopped early" : ""}`;
  return { asset: done.asset, words, notes: done.notes, ...(done.stopped ? { stopped: true } : {}) };
}
