import { layoutArea, signedArea } from "./area";
import { type ShellMesh, triangleAreas } from "./shell-mesh";

/** Of a shell's area in space, what a triangle has at least that is worth a word: less is a needle. */
const WORTH = 1e-12;

/**
 * Triangles of a layout that turn over or lose their area when its points are rounded to single precision, as files hold
 * them. Needles without area in space are left out. Linear time.
 *
 * @param uv 2 a point, where they will stand
 */
export function lostInSingle(shell: ShellMesh, uv: Float64Array): number {
  const { triangles } = shell;
  const rounded = uv.map(Math.fround);
  const side = layoutArea(triangles, uv) < 0 ? -1 : 1;
  const areas = triangleAreas(shell);
  const least = WORTH * areas.reduce((sum, area) => sum + area, 0);
  let lost = 0;
  for (let t = 0; t < areas.length; t++)
    if (areas[t]! > least && !(side * signedArea(rounded, triangles, 3 * t) > 0)) lost++;
  return lost;
}
