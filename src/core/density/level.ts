import type { PlacedShape } from "../layout/asset";
import { getBit } from "../layout/bits";
import { facesOfShell, type Layout, structureOf } from "../layout/layout";
import type { Shell } from "../mesh/indices";
import { worldPositions } from "../mesh/transform";
import { triangleArea, trianglesOf } from "../mesh/triangulate";

/** Areas of one mapped shell. */
export interface ShellArea {
  readonly shell: Shell;
  readonly world: number;
  /** Signed: negative for a mirrored shell. */
  readonly uv: number;
}

/** World and UV areas of a part's mapped shells, the world areas at the largest instance. */
export function shellAreas(shape: PlacedShape, layout: Layout): ShellArea[] {
  const { mesh } = shape;
  const s = structureOf(mesh, layout);
  const world = worldPositions(mesh, shape.metric);
  const t = trianglesOf(mesh);
  const { uv: x } = layout;
  const out: ShellArea[] = [];
  for (let shell = 0 as Shell; shell < s.shellCount; shell++) {
    const faces = facesOfShell(s, shell);
    if (!getBit(layout.mapped, faces[0]!)) continue;
    let [area, uv] = [0, 0];
    for (const f of faces) {
      for (let k = 3 * t.faceStart[f]!; k < 3 * t.faceStart[f + 1]!; k += 3) {
        area += triangleArea(mesh, world, t.corners, k);
        const p = 2 * s.cornerWedge[t.corners[k]!]!;
        const q = 2 * s.cornerWedge[t.corners[k + 1]!]!;
        const r = 2 * s.cornerWedge[t.corners[k + 2]!]!;
        uv += ((x[q]! - x[p]!) * (x[r + 1]! - x[p + 1]!) - (x[r]! - x[p]!) * (x[q + 1]! - x[p + 1]!)) / 2;
      }
    }
    out.push({ shell, world: area, uv });
  }
  return out;
}

/** The one density (UV length per world length) at which some shells together keep their UV area. */
export function commonDensity(areas: readonly ShellArea[]): number {
  const world = areas.reduce((sum, a) => sum + a.world, 0);
  const uv = areas.reduce((sum, a) => sum + Math.abs(a.uv), 0);
  return world > 0 ? Math.sqrt(uv / world) : 0;
}

/** Factor by which a shell is scaled to reach a density; 1 for a shell without area. */
export const levelFactor = (a: ShellArea, density: number): number =>
  a.world > 0 && a.uv !== 0 && density > 0 ? density / Math.sqrt(Math.abs(a.uv) / a.world) : 1;
