import type { Asset, PlacedShape, ShapeId, UvSetId } from "../layout/asset";
import { getBit } from "../layout/bits";
import { facesOfShell, type Layout, shellName, structureOf } from "../layout/layout";
import { ratioOf } from "../layout/shell-marks";
import { resolutionAt } from "../layout/tiles";
import type { Shell } from "../mesh/indices";
import { worldPositions } from "../mesh/transform";
import { triangleArea, trianglesOf } from "../mesh/triangulate";

/** Areas of one mapped shell. */
export interface ShellArea {
  readonly shell: Shell;
  readonly world: number;
  /** Signed: negative for a mirrored shell. */
  readonly uv: number;
  /** What its density is multiplied by to be compared with others: the resolution of its tile, by how dense it is to be. */
  readonly weight: number;
}

/** What densities of shells are multiplied by to be compared, for those of a shape. @param face the shell's name */
export type Weigh = (face: number, u: number, v: number) => number;

/** By the ratios that were said of shells alone: for what is to lie in one tile. */
export const byRatio =
  (asset: Pick<Asset, "shellMarks">, set: UvSetId, shape: ShapeId): Weigh =>
  (face) =>
    1 / ratioOf(asset, set, { shape, face });

/** By ratios, and the resolution of the tile that a shell's middle lies in: in texels. */
export const byTexels =
  (asset: Pick<Asset, "shellMarks" | "tiles">, set: UvSetId, shape: ShapeId): Weigh =>
  (face, u, v) =>
    resolutionAt(asset.tiles, u, v) / ratioOf(asset, set, { shape, face });

const ALIKE: Weigh = () => 1;

/** World and UV areas of a part's mapped shells, the world areas at the largest instance. */
export function shellAreas(shape: PlacedShape, layout: Layout, weigh: Weigh = ALIKE): ShellArea[] {
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
    let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
    for (const f of faces) {
      for (let k = 3 * t.faceStart[f]!; k < 3 * t.faceStart[f + 1]!; k += 3) {
        area += triangleArea(mesh, world, t.corners, k);
        const p = 2 * s.cornerWedge[t.corners[k]!]!;
        const q = 2 * s.cornerWedge[t.corners[k + 1]!]!;
        const r = 2 * s.cornerWedge[t.corners[k + 2]!]!;
        u0 = Math.min(u0, x[p]!, x[q]!, x[r]!);
        u1 = Math.max(u1, x[p]!, x[q]!, x[r]!);
        v0 = Math.min(v0, x[p + 1]!, x[q + 1]!, x[r + 1]!);
        v1 = Math.max(v1, x[p + 1]!, x[q + 1]!, x[r + 1]!);
        uv += ((x[q]! - x[p]!) * (x[r + 1]! - x[p + 1]!) - (x[r]! - x[p]!) * (x[q + 1]! - x[p + 1]!)) / 2;
      }
    }
    out.push({ shell, world: area, uv, weight: weigh(shellName(s, shell), (u0 + u1) / 2, (v0 + v1) / 2) });
  }
  return out;
}

/** The one density, as it is compared, at which some shells together keep their UV area. */
export function commonDensity(areas: readonly ShellArea[]): number {
  let [world, uv] = [0, 0];
  for (const a of areas) {
    world += a.world / a.weight ** 2;
    uv += Math.abs(a.uv);
  }
  return world > 0 ? Math.sqrt(uv / world) : 0;
}

/** Factor by which a shell is scaled to reach a density, as it is compared; 1 for a shell without area. */
export const levelFactor = (a: ShellArea, density: number): number =>
  a.world > 0 && a.uv !== 0 && density > 0 ? density / (a.weight * Math.sqrt(Math.abs(a.uv) / a.world)) : 1;
