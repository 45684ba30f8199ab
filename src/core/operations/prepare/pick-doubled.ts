import type { z } from "zod";
import type { SelectOperation } from "../operation";
import { count } from "../words";
import { doubledOptions, doubledPairs, withUnrelated } from "./doubled";

/** Picks the vertices that joining would join, and tells how near the next ones are. */
export const pickDoubled: SelectOperation<z.infer<typeof doubledOptions>> = {
  id: "pick-doubled",
  title: "Show doubled vertices",
  about: "Picks the vertices within a distance of each other, and says how near the nearest others are.",
  kind: "select",
  stage: "brief",
  heading: "Report",
  acts: "parts",
  options: doubledOptions,
  run(asset, scope, { distance }) {
    const found = withUnrelated(doubledPairs(asset, scope, distance), distance);
    const total = found.reduce((n, f) => n + f.pairs.length / 2, 0);
    const next = Math.min(...found.map((f) => f.unrelated ?? Infinity));
    const items = new Map(
      found.filter((f) => f.pairs.length).map((f) => [f.shape.id, Uint32Array.from(new Set(f.pairs)).sort()] as const),
    );
    const beside = Number.isFinite(next)
      ? ` The nearest vertices beyond that without an edge between them are ${+next.toPrecision(3)} ${asset.unit} apart.`
      : "";
    return {
      selection: { kind: "vertices", items },
      words: `${count(total, "pair")} of vertices within ${+distance.toPrecision(3)} ${asset.unit}.${beside}`,
    };
  },
};
