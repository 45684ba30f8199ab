import type { Asset } from "../../layout/asset";
import { withLayouts } from "../../layout/asset";
import { countBits, getBit, setBit } from "../../layout/bits";
import { withBits } from "../../layout/layout";
import { UserError } from "../../layout/user-error";
import type { Edge } from "../../mesh/indices";
import { edgeCorner, edgeFaceCount, topologyOf } from "../../mesh/topology";
import { worldPositions } from "../../mesh/transform";
import { creasedEdges, goingOn, isHard, withoutLooseEnds } from "../../seams/creased";
import type { EditResult, Scope } from "../operation";
import { layoutOf, shapesInScope } from "../scope";
import { count } from "../words";

interface CreasedInput {
  readonly angle: number;
  readonly down?: number | undefined;
  readonly materials: boolean;
  readonly groups: boolean;
  readonly normals: boolean;
  readonly tidy: boolean;
}

const radians = (degrees: number): number => (degrees * Math.PI) / 180;

/** Proposes seams along creases. */
export function run(
  asset: Asset,
  scope: Scope,
  { angle, down, materials, groups, normals, tidy }: CreasedInput,
): EditResult {
  let total = 0;
  const changes = shapesInScope(asset, scope).flatMap((shape) => {
    const { mesh } = shape;
    const layout = layoutOf(shape, scope.set);
    const t = topologyOf(mesh);
    const world = worldPositions(mesh, shape.metric);
    let bits = goingOn(
      mesh,
      creasedEdges(mesh, world, radians(angle)),
      creasedEdges(mesh, world, radians(Math.min(angle, down ?? angle))),
    );
    for (let e = 0 as Edge; e < t.edgeCount; e++) {
      if (edgeFaceCount(t, e) !== 2) continue;
      const [a, b] = [edgeCorner(t, e), edgeCorner(t, e, 1)];
      const [f, g] = [t.cornerFace[a]!, t.cornerFace[b]!];
      if (
        (materials && mesh.faceMaterial[f] !== mesh.faceMaterial[g]) ||
        (groups && mesh.faceGroup[f] !== mesh.faceGroup[g]) ||
        (normals && isHard(mesh, t, e))
      )
        setBit(bits, e);
    }
    // Seams that are there stay, whole lines or not; new ones may end on them.
    for (let i = 0; i < bits.length; i++) bits[i]! |= layout.cut[i]!;
    if (tidy) bits = withoutLooseEnds(mesh, bits);
    for (let i = 0; i < bits.length; i++) bits[i]! |= layout.cut[i]!;
    let changed = 0;
    for (let e = 0; e < t.edgeCount; e++) if (getBit(bits, e) !== getBit(layout.cut, e)) changed++;
    total += countBits(bits);
    return changed ? [{ shape: shape.id, set: scope.set, layout: withBits(mesh, layout, bits) }] : [];
  });
  if (!changes.length)
    throw new UserError(
      `No new crease of ${angle}° or more was found${materials || groups || normals ? ", nor a border" : ""}.`,
    );
  return {
    asset: withLayouts(asset, changes),
    words: `Creased at ${angle}°: ${count(total, "seam edge")}`,
    notes: [],
  };
}
