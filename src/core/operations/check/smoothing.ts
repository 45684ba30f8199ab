import { z } from "zod";
import type { Measures } from "../../check/measure";
import { type Asset, mapShapes, type ShapeId } from "../../layout/asset";
import { refuseTooMany, subdividedShape } from "../../layout/subdivide";
import { BORDER_RULES, type BorderRule, SCHEMES, type Scheme } from "../../mesh/subdivide";
import type { Scope } from "../operation";
import { shapesInScope } from "../scope";

// What smoothing a form by subdivision does to its layout: options, and the asset as it is then.

export const smoothingOptions = {
  levels: z
    .number()
    .int()
    .min(1)
    .max(4)
    .default(2)
    .meta({ title: "Levels", description: "Steps of subdivision; each makes four times as many faces" }),
  borders: z.enum(BORDER_RULES).default("corners").meta({
    title: "Borders",
    description: "Sharp leaves borders of shells as they are, corners rounds all but their corners, round all of them",
  }),
  scheme: z.enum(SCHEMES).default("catmull-clark").meta({
    title: "Scheme",
    description: "Catmull-Clark makes four-cornered faces of any faces; Loop makes triangles of triangles",
  }),
};

export interface Smoothing {
  readonly levels: number;
  readonly borders: BorderRule;
  readonly scheme: Scheme;
}

/** The shapes that a scope means smoothed, and of what face each face of them comes. @throws UserError for too many faces */
export function smoothed(asset: Asset, scope: Scope, { levels, borders, scheme }: Smoothing) {
  const shapes = shapesInScope(asset, scope);
  refuseTooMany(shapes, levels);
  const made = new Map(shapes.map((shape) => [shape.id, subdividedShape(shape, { levels, rule: borders, scheme })]));
  const fromFace = new Map<ShapeId, Uint32Array>([...made].map(([id, { fromFace }]) => [id, fromFace]));
  return { asset: mapShapes(asset, (s) => made.get(s.id)?.shape ?? s), fromFace };
}

/** The mean stretch before and after, in words. */
export const stretchWords = (before: Measures, after: Measures): string =>
  before.symmetricDirichlet === undefined || after.symmetricDirichlet === undefined
    ? "nothing has coordinates"
    : `stretch ${before.symmetricDirichlet.toFixed(3)}, ${after.symmetricDirichlet.toFixed(3)} when smoothed`;
