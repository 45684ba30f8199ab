import { layoutLines } from "../layout/changed-lines";
import { emptyLayout } from "../layout/layout";
import { parkBeside } from "../layout/park";
import { withShellPoints } from "../layout/shell-points";
import type { Piece } from "./pieces";
import { projectedLayout } from "./projected-layout";

/** Faces up to which a way is drawn. */
const MOST = 20_000;

/**
 * A piece as it is projected, its parts side by side in the unit square, and how many those are with the seams that are kept.
 * Nothing of pieces of very many faces.
 *
 * @param uv 2 per corner of the piece @returns lines of 4 numbers each
 */
export function wayDrawn({ mesh, cut }: Piece, uv: Float64Array): { lines?: Float32Array; pieces?: number } {
  if (mesh.faceStart.length - 1 > MOST) return {};
  const { layout, shells } = projectedLayout(mesh, emptyLayout(mesh), uv, cut);
  const laid = parkBeside(
    shells.map((shell) => shell.uv),
    null,
    null,
  );
  const points = shells.map((shell, i) => ({ ...shell, uv: laid[i]! }));
  return { lines: layoutLines(mesh, withShellPoints(mesh, layout, points)).borders, pieces: shells.length };
}
