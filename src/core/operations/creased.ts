import { z } from "zod";
import { withLayouts } from "../layout/asset";
import { countBits, getBit, setBit } from "../layout/bits";
import { withBits } from "../layout/layout";
import { UserError } from "../layout/user-error";
import type { Edge } from "../mesh/indices";
import { edgeCorner, edgeFaceCount, topologyOf } from "../mesh/topology";
import { worldPositions } from "../mesh/transform";
import { creasedEdges, withoutLooseEnds } from "../seams/creased";
import type { EditOperation } from "./operation";
import { layoutOf, shapesInScope } from "./scope";
import { count } from "./words";

const options = z.object({
  angle: z
    .number()
    .min(1)
    .max(179)
    .default(50)
    .meta({ title: "Angle", description: "Faces meeting at this angle or more are parted", unit: "°" }),
  materials: z
    .boolean()
    .default(false)
    .meta({ title: "Material borders", description: "Also where two materials meet" }),
  tidy: z
    .boolean()
    .default(true)
    .meta({ title: "Whole lines only", description: "Leave out creases that end in the middle of the surface" }),
});

/** Proposes seams along creases. */
export const creased: EditOperation<z.infer<typeof options>> = {
  id: "creased",
  title: "Propose seams: Creased",
  about: "Sets seams where faces meet at an angle, as at the rim of a lid.",
  kind: "edit",
  stage: "seams",
  heading: "Propose",
  key: "K",
  acts: "parts",
  options,
  run(asset, scope, { angle, materials, tidy }) {
    let total = 0;
    const changes = shapesInScope(asset, scope).flatMap((shape) => {
      const { mesh } = shape;
      const layout = layoutOf(shape, scope.set);
      const t = topologyOf(mesh);
      let bits = creasedEdges(mesh, worldPositions(mesh, shape.metric), (angle * Math.PI) / 180);
      if (materials) {
        for (let e = 0 as Edge; e < t.edgeCount; e++) {
          if (edgeFaceCount(t, e) !== 2) continue;
          const [a, b] = [0, 1].map((k) => mesh.faceMaterial[t.cornerFace[edgeCorner(t, e, k)]!]);
          if (a !== b) setBit(bits, e);
        }
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
    if (!changes.length) throw new UserError(`No new crease of ${angle}° or more was found.`);
    return {
      asset: withLayouts(asset, changes),
      words: `Creased at ${angle}°: ${count(total, "seam edge")}`,
      notes: [],
    };
  },
};
