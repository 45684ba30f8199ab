import type { z } from "zod";
import { mapShapes } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { doubledOptions, doubledPairs } from "./doubled";

/** Joins vertices that lie no farther apart than a distance. */
export const joinDoubled: EditOperation<z.infer<typeof doubledOptions>> = {
  id: "join-doubled",
  title: "Join doubled vertices",
  about: "Joins vertices within a distance of each other; 0 joins only those at exactly the same place.",
  kind: "edit",
  stage: "brief",
  heading: "Report",
  mends: { faults: { cracks: {}, doubled: {} } },
  acts: "parts",
  big: true,
  options: doubledOptions,
  async run(asset, scope, { distance }) {
    const { joinVertices } = await import("../../prepare/repairs");
    const found = doubledPairs(asset, scope, distance);
    const total = found.reduce((n, f) => n + f.pairs.length / 2, 0);
    if (!total) throw new UserError("No two vertices lie within that distance.");
    const pairs = new Map(found.map((f) => [f.shape.id, f.pairs]));
    return {
      asset: mapShapes(asset, (s) => joinVertices(s, pairs.get(s.id) ?? [])),
      words: `Join ${count(total, "pair")} of vertices`,
      notes: [],
    };
  },
};
