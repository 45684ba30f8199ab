import type { Shape, UvSetId } from "../layout/asset";
import { getBit } from "../layout/bits";
import { type CarryFrom, carryLayouts } from "../layout/carry";
import { type Layout, layoutFromCorners, structureOf } from "../layout/layout";
import { FaceTable } from "../mesh/face-table";
import { faceCount, type PolyMesh, vertexCount } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { weldExact } from "../mesh/weld-exact";
import { matchMeshes, sameNumbering } from "./match";
import { layBySurface } from "./nearest-surface";

/** How a layout came over, face by face of the target. */
export interface CarriedOver {
  readonly layouts: ReadonlyMap<UvSetId, Layout>;
  /** Faces as they were. */
  readonly kept: number;
  /** Faces joined as they were, whose shape is another. */
  readonly moved: Uint32Array;
  /** New faces, with coordinates from the surface nearest to them. */
  readonly fresh: Uint32Array;
  /** Faces of the old mesh that are gone. */
  readonly gone: number;
  readonly way: "numbering" | "connectivity" | "surface";
}

/**
 * Brings a part's layouts over to a changed version of its mesh: by numbering or connectivity where that is as it was;
 * face by face where only some changed; by the nearest surface for the rest.
 */
export function carryOver(shape: Shape, mesh: PolyMesh): CarriedOver {
  const mapped = (change: (layout: Layout) => Layout) =>
    new Map([...shape.layouts].map(([set, layout]) => [set, change(layout)]));
  const match = matchMeshes(shape.mesh, mesh);
  if (match && !match.mirrored.some(Boolean)) {
    const moved = movedFaces(shape.mesh, mesh, match.corner);
    return {
      layouts: mapped((layout) => carryLayouts(mesh, [{ mesh: shape.mesh, layout, corner: match.corner }])),
      kept: faceCount(mesh) - moved.length,
      moved,
      fresh: new Uint32Array(0),
      gone: 0,
      way: sameNumbering(shape.mesh, mesh) ? "numbering" : "connectivity",
    };
  }
  const corner = facesByPlace(shape.mesh, mesh);
  const fresh: number[] = [];
  for (let f = 0; f < faceCount(mesh); f++) if (corner[mesh.faceStart[f]!]! < 0) fresh.push(f);
  const kept = faceCount(mesh) - fresh.length;
  return {
    layouts: mapped((layout) => mixedLayout(shape, layout, mesh, corner, fresh)),
    kept,
    moved: new Uint32Array(0),
    fresh: Uint32Array.from(fresh),
    gone: faceCount(shape.mesh) - kept,
    way: "surface",
  };
}

function mixedLayout(shape: Shape, set: Layout, mesh: PolyMesh, corner: Int32Array, fresh: readonly number[]): Layout {
  const known: CarryFrom = { mesh: shape.mesh, layout: set, corner };
  if (!fresh.length) return carryLayouts(mesh, [known]);
  const uv = new Float64Array(2 * mesh.cornerVertex.length).fill(Number.NaN);
  layBySurface({ mesh: shape.mesh, layout: set, places: shape.mesh.positions }, mesh, mesh.positions, fresh, uv);
  const near = layoutFromCorners(mesh, uv);
  const own = Int32Array.from({ length: mesh.cornerVertex.length }, (_, c) => (corner[c]! < 0 ? c : -1));
  return carryLayouts(mesh, [known, { mesh, layout: near, corner: own }]);
}

/** A face counts as moved when a side has changed its length by more than this share. */
const SAME_SHAPE = 1e-4;

function movedFaces(old: PolyMesh, mesh: PolyMesh, corner: Int32Array): Uint32Array {
  const length = ({ positions: p, cornerVertex }: PolyMesh, a: number, b: number) => {
    const i = 3 * cornerVertex[a]!;
    const j = 3 * cornerVertex[b]!;
    return Math.sqrt((p[i]! - p[j]!) ** 2 + (p[i + 1]! - p[j + 1]!) ** 2 + (p[i + 2]! - p[j + 2]!) ** 2);
  };
  const { cornerNext } = topologyOf(mesh);
  const out: number[] = [];
  for (let f = 0; f < faceCount(mesh); f++)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const n = cornerNext[c]!;
      const now = length(mesh, c, n);
      const was = length(old, corner[c]!, corner[n]!);
      if (Math.abs(now - was) <= SAME_SHAPE * Math.max(now, was)) continue;
      out.push(f);
      break;
    }
  return Uint32Array.from(out);
}

/** For every corner of the new mesh the corner of an old face over just the same places; -1 where there is none. */
function facesByPlace(old: PolyMesh, mesh: PolyMesh): Int32Array {
  const all = new Float64Array(old.positions.length + mesh.positions.length);
  all.set(old.positions);
  all.set(mesh.positions, old.positions.length);
  const { of } = weldExact(all);
  const places = of.subarray(vertexCount(old));
  const table = new FaceTable(old, of);
  const out = new Int32Array(mesh.cornerVertex.length).fill(-1);
  for (let f = 0; f < faceCount(mesh); f++) {
    const was = table.take(mesh, f, places);
    if (was < 0) continue;
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const place = places[mesh.cornerVertex[c]!]!;
      for (let k = old.faceStart[was]!; k < old.faceStart[was + 1]!; k++)
        if (of[old.cornerVertex[k]!] === place) out[c] = k;
    }
  }
  return out;
}

/** Turns shells of mirrored faces over within their own box, so that nothing comes to lie mirrored. */
export function turnedOver(mesh: PolyMesh, set: Layout, mirrored: Uint8Array): Layout {
  if (!mirrored.some(Boolean)) return set;
  const s = structureOf(mesh, set);
  const { cornerFace } = topologyOf(mesh);
  const low = new Float64Array(s.shellCount).fill(Infinity);
  const high = new Float64Array(s.shellCount).fill(-Infinity);
  const turn = new Uint8Array(s.shellCount);
  const wedgeShell = new Uint32Array(s.wedgeCount);
  for (let c = 0; c < cornerFace.length; c++) {
    const f = cornerFace[c]!;
    const shell = s.faceShell[f]!;
    const w = s.cornerWedge[c]!;
    wedgeShell[w] = shell;
    if (!getBit(set.mapped, f)) continue;
    if (mirrored[f]) turn[shell] = 1;
    low[shell] = Math.min(low[shell]!, set.uv[2 * w]!);
    high[shell] = Math.max(high[shell]!, set.uv[2 * w]!);
  }
  const uv = set.uv.map((x, i) => {
    const shell = wedgeShell[i >> 1]!;
    return i % 2 || !turn[shell] ? x : low[shell]! + high[shell]! - x;
  });
  return { ...set, uv };
}
