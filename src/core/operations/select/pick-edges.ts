import type { z } from "zod";
import type { PlacedShape, ShapeId } from "../../layout/asset";
import { type Bits, placesOfBits } from "../../layout/bits";
import type { Layout } from "../../layout/layout";
import type { SelectOperation } from "../operation";
import { layoutOf, shapesInScope } from "../scope";
import { elementWords } from "../words";

interface Plan<Options> extends Pick<SelectOperation<Options>, "id" | "title" | "about"> {
  readonly options: z.ZodType<Options>;
  /** The edges of a shape that are meant. */
  edges(shape: PlacedShape, layout: Layout, options: Options): Bits;
}

/** An operation that picks edges of some sort on what is visible, or on the parts that something is picked of. */
export function pickEdges<Options>({ edges, ...plan }: Plan<Options>): SelectOperation<Options> {
  return {
    ...plan,
    kind: "select",
    stage: "seams",
    heading: "Pick",
    acts: "parts",
    run(asset, scope, options) {
      const items = new Map<ShapeId, Uint32Array>();
      let total = 0;
      for (const shape of shapesInScope(asset, scope)) {
        const found = placesOfBits(edges(shape, layoutOf(shape, scope.set), options));
        if (found.length) items.set(shape.id, found);
        total += found.length;
      }
      return { selection: { kind: "edges", items }, words: `${elementWords(total, "edges")} picked.` };
    },
  };
}
