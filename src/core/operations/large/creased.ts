import type { Asset } from "../../layout/asset";
import { setBit } from "../../layout/bits";
import { UserError } from "../../layout/user-error";
import { worldPositions } from "../../mesh/transform";
import { type BorderOf, borderEdges } from "../../seams/borders";
import { creasedEdges, goingOn, withoutLooseEnds } from "../../seams/creased";
import type { EditResult, Scope } from "../operation";
import { count } from "../words";
import { withProposedSeams } from "./proposed-seams";

interface CreasedInput extends Readonly<Record<BorderOf, boolean>> {
  readonly angle: number;
  readonly down?: number | undefined;
  readonly tidy: boolean;
}

const radians = (degrees: number): number => (degrees * Math.PI) / 180;

/** Proposes seams along creases. */
export function run(asset: Asset, scope: Scope, { angle, down, tidy, ...also }: CreasedInput): EditResult {
  const borders = (["materials", "groups", "normals"] as const).filter((of) => also[of]);
  const proposed = withProposedSeams(asset, scope, ({ mesh, metric }, cut) => {
    const world = worldPositions(mesh, metric);
    const bits = goingOn(
      mesh,
      creasedEdges(mesh, world, radians(angle)),
      creasedEdges(mesh, world, radians(Math.min(angle, down ?? angle))),
    );
    for (const of of borders) for (const e of borderEdges(mesh, of)) setBit(bits, e);
    if (!tidy) return bits;
    // Seams that are there stay, whole lines or not; new ones may end on them.
    for (let i = 0; i < bits.length; i++) bits[i]! |= cut[i]!;
    return withoutLooseEnds(mesh, bits);
  });
  if (!proposed.added)
    throw new UserError(`No new crease of ${angle}° or more was found${borders.length ? ", nor a border" : ""}.`);
  return { asset: proposed.asset, words: `Creased at ${angle}°: ${count(proposed.added, "seam edge")}`, notes: [] };
}
