import { z } from "zod";
import type { PlacedShape, ShapeId } from "../../layout/asset";
import type { Layout } from "../../layout/layout";
import { UserError } from "../../layout/user-error";
import { elementCount, flagsAt, placesOf } from "../../select/grow";
import type { SelectionKind, SelectOperation } from "../operation";
import { layoutOf, shapesInScope } from "../scope";
import { elementWords, manyOf } from "../words";

type Named<Options> = Pick<SelectOperation<Options>, "id" | "title" | "about" | "fits" | "key">;

interface PlanWith<Options> extends Named<Options> {
  /** Kinds of elements that it goes on from. */
  readonly kinds: readonly SelectionKind[];
  readonly options: z.ZodType<Options>;
  /** The kind that is picked afterwards; the same when not given. */
  into?(options: Options): SelectionKind;
  /** What is picked of a shape afterwards. */
  pick(shape: PlacedShape, layout: Layout, kind: SelectionKind, flags: Uint8Array, options: Options): Uint8Array;
}

/** An operation that goes from what is picked to something else, shape by shape. */
export function pickFromPicked<Options>({ pick, kinds, into, ...plan }: PlanWith<Options>): SelectOperation<Options> {
  return {
    ...plan,
    kind: "select",
    stage: "seams",
    heading: "Pick",
    acts: "asset",
    picks: true,
    near: true,
    run(asset, scope, options) {
      const { selection } = scope;
      if (!selection || !kinds.includes(selection.kind))
        throw new UserError(`Pick ${kinds.map(manyOf).join(" or ")} first.`);
      const kind = into?.(options) ?? selection.kind;
      const items = new Map<ShapeId, Uint32Array>();
      let total = 0;
      for (const shape of shapesInScope(asset, scope)) {
        const flags = flagsAt(selection.items.get(shape.id)!, elementCount(shape.mesh, selection.kind));
        const places = placesOf(pick(shape, layoutOf(shape, scope.set), selection.kind, flags, options));
        if (places.length) items.set(shape.id, places);
        total += places.length;
      }
      return { selection: { kind, items }, words: `${elementWords(total, kind)} picked.` };
    },
  };
}

type Plan = Omit<PlanWith<Record<string, never>>, "options" | "into">;

/** The same to what lies beside, without options. */
export const pickBeside = (plan: Plan): SelectOperation<Record<string, never>> =>
  pickFromPicked({ ...plan, options: z.object({}) });
