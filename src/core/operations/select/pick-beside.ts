import { z } from "zod";
import type { PlacedShape, ShapeId } from "../../layout/asset";
import type { Layout } from "../../layout/layout";
import { UserError } from "../../layout/user-error";
import { elementCount, flagsAt, placesOf } from "../../select/grow";
import type { SelectionKind, SelectOperation } from "../operation";
import { layoutOf, shapesInScope } from "../scope";
import { elementWords } from "../words";

interface Plan extends Pick<SelectOperation<object>, "id" | "title" | "about" | "fits" | "key"> {
  /** Kinds of elements that it goes on from. */
  readonly kinds: readonly SelectionKind[];
  /** What is picked of a shape afterwards. */
  pick(shape: PlacedShape, layout: Layout, kind: SelectionKind, flags: Uint8Array): Uint8Array;
}

/** An operation that goes from what is picked to what lies beside it, shape by shape. */
export function pickBeside({ pick, kinds, ...plan }: Plan): SelectOperation<Record<string, never>> {
  return {
    ...plan,
    kind: "select",
    stage: "seams",
    heading: "Pick",
    acts: "asset",
    picks: true,
    near: true,
    options: z.object({}),
    run(asset, scope) {
      const { selection } = scope;
      if (!selection || !kinds.includes(selection.kind)) throw new UserError(`Pick ${kinds.join(" or ")} first.`);
      const items = new Map<ShapeId, Uint32Array>();
      let total = 0;
      for (const shape of shapesInScope(asset, scope)) {
        const flags = flagsAt(selection.items.get(shape.id)!, elementCount(shape.mesh, selection.kind));
        const places = placesOf(pick(shape, layoutOf(shape, scope.set), selection.kind, flags));
        if (places.length) items.set(shape.id, places);
        total += places.length;
      }
      return { selection: { kind: selection.kind, items }, words: `${elementWords(total, selection.kind)} picked.` };
    },
  };
}
