import { type Asset, withLayouts } from "../../layout/asset";
import { shellName, structureOf } from "../../layout/layout";
import { hasPins } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import { mirroredAbout } from "../../straighten/mirror-about";
import { layoutArea } from "../../unfold/area";
import { madeSymmetric, mirrorOf } from "../../unfold/symmetry";
import type { EditResult, Note, Scope } from "../operation";
import { count } from "../words";
import { newLayouts } from "./new-layouts";
import { runsIn } from "./straighten-edges";
import { facePoints, type LaidShell, laidShells, stretchOfAll } from "./straightened-shells";
import { turnedInPlace } from "./turn-by-edge";

/** Makes shells whose form mirrors mirror on the sheet as well. */
export function run(asset: Asset, scope: Scope, { upright }: { readonly upright: boolean }): EditResult {
  const notes: Note[] = [];
  const isAboutEdges = scope.selection?.kind === "edges";
  const placed = laidShells(asset, scope).flatMap((own) => {
    const { shape, layout, shell, form, uv } = own;
    const leave = (why: string) => {
      if (scope.selection)
        notes.push({
          words: `Shell ${shell + 1} of ${shape.name} ${why}.`,
          shells: [{ shape: shape.id, face: shellName(structureOf(shape.mesh, layout), shell) }],
        });
      return [];
    };
    if (hasPins(shape.mesh, layout, shell)) return leave("is pinned, and stays");
    const images = isAboutEdges ? imagesAbout(own, scope) : mirrorOf(form);
    if (!images)
      return leave(
        isAboutEdges
          ? "has not the same faces on both sides of the picked edges, and stays as it is"
          : "does not mirror in space, and stays as it is",
      );
    const side = Math.sign(layoutArea(form.triangles, uv)) || 1;
    const made = madeSymmetric(form.triangles, side < 0 ? flip(uv) : uv, images);
    if (!made) return leave("could not mirror without a face that flips, and stays as it is");
    const to = side < 0 ? flip(made) : made;
    return [{ ...own, to: upright ? stoodOnAxis(to, images) : to }];
  });
  if (!placed.length)
    throw new UserError(notes.length === 1 ? notes[0]!.words : "None of these shells has two halves that mirror.");
  const [before, after] = stretchOfAll(placed);
  return {
    asset: withLayouts(
      asset,
      newLayouts(
        placed.map(({ to, ...own }) => ({ ...own, uv: to })),
        scope.set,
      ),
    ),
    words: `Symmetrise ${count(placed.length, "shell")}: stretch ${before.toFixed(3)} to ${after.toFixed(3)}`,
    notes,
  };
}

/** Images across the picked edges of a shell, all of which lie on one line. */
function imagesAbout(own: LaidShell, scope: Scope): Uint32Array | null {
  const lines = runsIn(own, scope);
  const [line] = lines;
  if (!line) return null;
  const [a, b] = line.points as [number, number];
  const images = mirroredAbout(facePoints(own), own.form.wedges.length, [a, b]);
  return images && lines.every(({ points }) => points.every((p) => images[p] === p)) ? images : null;
}

const flip = (uv: Float64Array): Float64Array => uv.map((x, i) => (i % 2 ? x : -x));

/** Turned about its middle, by as little as will do, until what mirrors lies left and right of each other. */
function stoodOnAxis(uv: Float64Array, images: Uint32Array): Float64Array {
  let [x, y] = [0, 0];
  images.forEach((q, p) => {
    const [du, dv] = [uv[2 * q]! - uv[2 * p]!, uv[2 * q + 1]! - uv[2 * p + 1]!];
    // The same whichever of both is the image.
    x += du * du - dv * dv;
    y += 2 * du * dv;
  });
  if (!x && !y) return uv;
  return turnedInPlace(uv, -Math.atan2(y, x) / 2);
}
