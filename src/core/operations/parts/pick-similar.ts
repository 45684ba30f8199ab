import { z } from "zod";
import { partPrints } from "../../transfer/fingerprint";
import type { SelectOperation } from "../operation";
import { count } from "../words";
import { pickedParts } from "./picked-parts";

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
  acts: "parts",
  picks: true,
  options,
  run(asset, scope, { how }) {
    const prints = partPrints(asset, how);
    const wanted = new Set(pickedParts(asset, scope).map((p) => prints.get(p.id)));
    const visible = new Set(scope.parts);
    const like = asset.parts.filter((p) => visible.has(p.id) && wanted.has(prints.get(p.id)));
    const items = new Map(
      like.map((p) => [p.instanceOf ?? p.id, Uint32Array.from({ length: p.mesh.faceStart.length - 1 }, (_, f) => f)]),
    );
    return { selection: { kind: "faces", items }, words: `${count(like.length, "part")} alike.` };
  },
};
