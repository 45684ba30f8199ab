import { layoutArea, signedArea } from "../unfold/area";
import { type ShellMesh, triangleAreas } from "../unfold/shell-mesh";
import { triangleEnergy } from "../unfold/triangle-energy";

/** What a triangle that is flipped, or without area, counts as stretched. */
const MOST = 10;

/** Mean by area of the symmetric Dirichlet energy of a shell's triangles, the shell taken at its own size: 1 = as in space. */
export function meanStretch(form: ShellMesh, uv: Float64Array): number {
  const { triangles, positions } = form;
  const areas = triangleAreas(form);
  const world = areas.reduce((sum, a) => sum + a, 0);
  const flat = layoutArea(triangles, uv);
  if (!(world > 0) || !flat) return 1;
  const scale = Math.sqrt(world / Math.abs(flat));
  // Mirrored as a whole is not flipped.
  const sized = uv.map((x, i) => (i % 2 ? x * scale : Math.sign(flat) * x * scale));
  let sum = 0;
  const points = new Uint32Array(3);
  for (let t = 0; t < areas.length; t++) {
    for (let k = 0; k < 3; k++) points[k] = triangles[3 * t + k]!;
    const isFlipped = !(signedArea(sized, triangles, 3 * t) > 0);
    sum += areas[t]! * (isFlipped ? MOST : Math.min(MOST, triangleEnergy(positions, points, sized, points)));
  }
  return sum / world;
}

/** How many triangles lie the other way round than the shell as a whole. */
export function flippedIn({ triangles }: ShellMesh, uv: Float64Array): number {
  const side = Math.sign(layoutArea(triangles, uv));
  let count = 0;
  for (let t = 0; t < triangles.length; t += 3) if (!(side * signedArea(uv, triangles, t) > 0)) count++;
  return count;
}
