import { z } from "zod";
import type { Measures } from "../../check/measure";
import { type Asset, mapShapes, type ShapeId } from "../../layout/asset";
import { subdividedShape } from "../../layout/subdivide";
import { UserError } from "../../layout/user-error";
import { cornerCount } from "../../mesh/poly-mesh";
import { BORDER_RULES, type BorderRule } from "../../mesh/subdivide";
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
    .meta({ title: "Levels", description: "Steps of Catmull-Clark subdivision; each makes four times as many faces" }),
  borders: z.enum(BORDER_RULES).default("corners").meta({
    title: "Borders",
    description: "Sharp leaves borders of shells as they are, corners rounds all but their corners, round all of them",
  }),
};

export interface Smoothing {
  readonly levels: number;
  readonly borders: BorderRule;
}

/** Faces that smoothing makes, at the most. */
const MOST_FACES = 4_000_000;

/** The shapes that a scope means smoothed, and of what face each face of them comes. @throws UserError for too many faces */
export function smoothed(asset: Asset, scope: Scope, { levels, borders }: Smoothing) {
  const shapes = shapesInScope(asset, scope);
  const faces = shapes.reduce((sum, { mesh }) => sum + cornerCount(mesh), 0) * 4 ** (levels - 1);
  if (faces > MOST_FACES)
    throw new UserError(
      `That would make ${Math.ceil(faces / 1e6)} million faces; ${MOST_FACES / 1e6} are the most: smooth fewer parts, or by fewer levels.`,
    );
  const made = new Map(shapes.map((shape) => [shape.id, subdividedShape(shape, levels, borders)]));
  const fromFace = new Map<ShapeId, Uint32Array>([...made].map(([id, { fromFace }]) => [id, fromFace]));
  return { asset: mapShapes(asset, (s) => made.get(s.id)?.shape ?? s), fromFace };
}

/** The mean stretch before and after, in words. */
export const stretchWords = (before: Measures, after: Measures): string =>
  before.symmetricDirichlet === undefined || after.symmetricDirichlet === undefined
    ? "nothing has coordinates"
    : `stretch ${before.symmetricDirichlet.toFixed(3)}, ${after.symmetricDirichlet.toFixed(3)} when smoothed`;
