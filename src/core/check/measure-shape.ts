import { getBit, sameBits } from "../layout/bits";
import { isBarrier, type Layout, type Structure, shellName, structureOf } from "../layout/layout";
import { wedgeShells } from "../layout/shell-points";
import type { Edge, Shell } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { type Mat4, worldPositions } from "../mesh/transform";
import { trianglesOf } from "../mesh/triangulate";
import { bordersOf } from "./borders";
import { measureShell, Scratch } from "./measure-shell";
import { copied, emptyFigures, type Measuring, type ShapeFigures } from "./shape-figures";

export interface MeasureInput {
  readonly mesh: PolyMesh;
  readonly layout: Layout;
  /** The transform lengths are taken with. */
  readonly metric: Mat4;
  /** Figures of a layout with the same cuts, of which only the shells that moved need to be measured again. */
  readonly before?: { readonly layout: Layout; readonly figures: ShapeFigures } | undefined;
  /** The result of `movedSince` for the two, where it is known already. */
  readonly moved?: Uint32Array | null | undefined;
}

/**
 * Measures every shell of a shape, in time linear in its corners.
 *
 * Singular values of the linear maps taking the 3D triangles to their UV triangles: Sander, Snyder, Gortler, Hoppe,
 * Texture mapping progressive meshes (2001). Symmetric Dirichlet energy: Smith and Schaefer, Bijective parameterization
 * with free boundaries (2015).
 */
export function measureShape({ mesh, layout, metric, before, moved }: MeasureInput): ShapeFigures {
  const s = structureOf(mesh, layout);
  const keep = before && sameCuts(before.layout, layout) ? before : undefined;
  const t = trianglesOf(mesh);
  const figures = keep ? copied(keep.figures) : emptyFigures(s.shellCount, t.face.length);
  const world = worldPositions(mesh, metric);
  const fresh = keep ? (moved ?? movedShells(mesh, keep.layout, layout)) : null;
  if (!keep) countShells(figures, s, mesh, layout, world);
  const work = { s, mesh, layout, world, t, scratch: new Scratch() };
  for (let i = 0; i < (fresh?.length ?? s.shellCount); i++) {
    const shell = fresh ? fresh[i]! : i;
    if (figures.mapped[shell]) measureShell(figures, shell as Shell, work);
  }
  const border = bordersOf({
    mesh,
    layout,
    structure: s,
    mapped: figures.mapped,
    majority: figures.majority,
    flipped: figures.flipped,
    shells: fresh,
    before: keep?.figures.border ?? null,
  });
  const { ownTriangles: _, ...plain } = figures;
  return { ...plain, border, fresh };
}

const sameCuts = (a: Layout, b: Layout): boolean => sameBits(a.cut, b.cut) && sameBits(a.mapped, b.mapped);

/** Shells of a mesh some of whose points are elsewhere than before, ascending; null where cuts or mapped faces differ. */
export const movedSince = (mesh: PolyMesh, before: Layout, layout: Layout): Uint32Array | null =>
  sameCuts(before, layout) ? movedShells(mesh, before, layout) : null;

function movedShells(mesh: PolyMesh, { uv: old }: Layout, layout: Layout): Uint32Array {
  const { uv } = layout;
  if (old === uv) return new Uint32Array(0);
  const s = structureOf(mesh, layout);
  const shellOf = wedgeShells(mesh, s);
  const touched = new Uint8Array(s.shellCount);
  for (let i = 0; i < uv.length; i++) if (old[i] !== uv[i]) touched[shellOf[i >> 1]!] = 1;
  const out: number[] = [];
  for (let k = 0; k < touched.length; k++) if (touched[k]) out.push(k);
  return Uint32Array.from(out);
}

/** Names, counts and seam lengths: what does not depend on where the points lie. */
function countShells(f: Measuring, s: Structure, mesh: PolyMesh, layout: Layout, world: Float64Array): void {
  const topology = topologyOf(mesh);
  for (let k = 0 as Shell; k < s.shellCount; k++) {
    f.face[k] = shellName(s, k);
    f.mapped[k] = getBit(layout.mapped, f.face[k]!) ? 1 : 0;
    f.faces[k] = s.shellStart[k + 1]! - s.shellStart[k]!;
  }
  for (let g = 0; g < s.faceShell.length; g++)
    f.corners[s.faceShell[g]!]! += mesh.faceStart[g + 1]! - mesh.faceStart[g]!;
  for (let e = 0 as Edge; e < topology.edgeCount; e++) {
    if (!isBarrier(topology, layout, e)) continue;
    const a = 3 * topology.edgeVertices[2 * e]!;
    const b = 3 * topology.edgeVertices[2 * e + 1]!;
    const [x, y, z] = [world[a]! - world[b]!, world[a + 1]! - world[b + 1]!, world[a + 2]! - world[b + 2]!];
    const length = Math.sqrt(x * x + y * y + z * z);
    const [from, to] = [topology.edgeCornerStart[e]!, topology.edgeCornerStart[e + 1]!];
    const isCut = getBit(layout.cut, e);
    let sides = 0;
    for (let k = from; k < to; k++) {
      const shell = s.faceShell[topology.cornerFace[topology.edgeCorners[k]!]!]!;
      sides += f.mapped[shell]!;
      if (isCut) f.cutLength[shell]! += length / (to - from);
    }
    for (let k = from; k < to; k++) {
      const shell = s.faceShell[topology.cornerFace[topology.edgeCorners[k]!]!]!;
      if (!f.mapped[shell]) continue;
      if (sides === 1) f.borderLength[shell]! += length;
      else f.seamLength[shell]! += length / sides;
    }
  }
}
