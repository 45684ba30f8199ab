import { z } from "zod";
import { shapeOf } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { faceCount } from "../../mesh/poly-mesh";
import { iota } from "../../numeric/iota";
import { partPrints } from "../../transfer/fingerprint";
import type { SelectOperation } from "../operation";
import { partsInScope } from "../scope";
import { count } from "../words";

const options = z.object({
  how: z
    .enum(["identical", "same mesh", "same material"])
    .default("identical")
    .meta({ title: "Alike in", description: "Shape and size, the way the faces are joined, or material" }),
});

/** Picks the visible parts that are like the picked ones. */
export const pickSimilar: SelectOperation<z.infer<typeof options>> = {
  id: "pick-similar",
  title: "Pick similar parts",
  about: "Picks the visible parts of the same shape, the same mesh or the same material as the picked ones.",
  kind: "select",
  stage: "brief",
  heading: "Parts",
  acts: "parts",
  picks: true,
  options,
  run(asset, scope, { how }) {
    if (!scope.picked && !scope.selection) throw new UserError("Pick a part first.");
    const prints = partPrints(asset, how);
    const wanted = new Set(partsInScope(asset, scope).map((p) => prints.get(p.id)));
    const visible = new Set(scope.parts);
    const like = asset.parts.filter((p) => visible.has(p.id) && wanted.has(prints.get(p.id)));
    const items = new Map(like.map((p) => [p.shape, iota(faceCount(shapeOf(asset, p).mesh))]));
    return {
      selection: { kind: "faces", items },
      parts: like.map((p) => p.id),
      words: `${count(like.length, "part")} alike.`,
    };
  },
};
