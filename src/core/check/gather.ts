import { type Asset, layoutParts, measuringTransform, type PartId } from "../layout/asset";
import { getBit } from "../layout/bits";
import { emptyLayout, isBarrier, structureOf } from "../layout/uv-set";
import { topologyOf } from "../mesh/topology";
import { worldPositions } from "../mesh/transform";
import { trianglesOf } from "../mesh/triangulate";

/** Where a shell is: part by its place in `layoutParts`, and the shell's number in that part. */
export interface ShellRef {
  readonly part: PartId;
  readonly shell: number;
}

/** All mapped triangles of an asset in one run, with what measuring needs of them. */
export interface Gathered {
  readonly count: number;
  /** 9 per triangle, world space. */
  readonly p: Float64Array;
  /** 6 per triangle, UV. */
  readonly q: Float64Array;
  /** Shell of every triangle, numbered over the asset: mapped shells only. */
  readonly shell: Uint32Array;
  readonly shells: readonly ShellRef[];
  /** 4 per border edge of the layout: its two UV ends; and the shell it bounds. */
  readonly outline: Float64Array;
  readonly outlineShell: Uint32Array;
  /** World lengths. */
  readonly seamLength: number;
  readonly borderLength: number;
  readonly cornersWithoutUv: number;
  /** Shells with and without coordinates, and the world length of all edges that are cut. */
  readonly allShells: number;
  readonly cutLength: number;
  readonly faces: number;
  readonly vertices: number;
}

/**
 * Gathers one UV set of an asset, world space, instances once at their largest.
 *
 * @param only parts to take; all when not given
 */
export function gather(asset: Asset, set = 0, only?: ReadonlySet<PartId>): Gathered {
  const p: number[] = [];
  const q: number[] = [];
  const shell: number[] = [];
  const shells: ShellRef[] = [];
  const outline: number[] = [];
  const outlineShell: number[] = [];
  const sums = {
    seamLength: 0,
    borderLength: 0,
    cornersWithoutUv: 0,
    allShells: 0,
    cutLength: 0,
    faces: 0,
    vertices: 0,
  };
  for (const part of layoutParts(asset)) {
    if (only && !only.has(part.id)) continue;
    const { mesh } = part;
    const layout = part.uvSets[set] ?? emptyLayout(mesh);
    sums.faces += mesh.faceStart.length - 1;
    sums.vertices += mesh.positions.length / 3;
    const s = structureOf(mesh, layout);
    const world = worldPositions(mesh, measuringTransform(asset, part));
    sums.allShells += s.shellCount;
    const number = new Int32Array(s.shellCount).fill(-1);
    for (let k = 0; k < s.shellCount; k++)
      if (getBit(layout.mapped, s.shellFaces[s.shellStart[k]!]!))
        number[k] = shells.push({ part: part.id, shell: k }) - 1;
    const t = trianglesOf(mesh);
    for (let i = 0; i < t.face.length; i++) {
      const id = number[s.faceShell[t.face[i]!]!]!;
      if (id < 0) continue;
      shell.push(id);
      for (let k = 3 * i; k < 3 * i + 3; k++) {
        const v = 3 * mesh.cornerVertex[t.corners[k]!]!;
        p.push(world[v]!, world[v + 1]!, world[v + 2]!);
        const w = 2 * s.cornerWedge[t.corners[k]!]!;
        q.push(layout.uv[w]!, layout.uv[w + 1]!);
      }
    }
    gatherEdges();

    function gatherEdges(): void {
      const topology = topologyOf(mesh);
      for (let f = 0; f < mesh.faceStart.length - 1; f++)
        if (!getBit(layout!.mapped, f)) sums.cornersWithoutUv += mesh.faceStart[f + 1]! - mesh.faceStart[f]!;
      for (let e = 0; e < topology.edgeCount; e++) {
        if (!isBarrier(topology, layout!, e)) continue;
        let sides = 0;
        for (let k = topology.edgeCornerStart[e]!; k < topology.edgeCornerStart[e + 1]!; k++) {
          const c = topology.edgeCorners[k]!;
          if (number[s.faceShell[topology.cornerFace[c]!]!]! < 0) continue;
          sides++;
          const a = 2 * s.cornerWedge[c]!;
          const b = 2 * s.cornerWedge[topology.cornerNext[c]!]!;
          outline.push(layout!.uv[a]!, layout!.uv[a + 1]!, layout!.uv[b]!, layout!.uv[b + 1]!);
          outlineShell.push(number[s.faceShell[topology.cornerFace[c]!]!]!);
        }
        const a = 3 * topology.edgeVertices[2 * e]!;
        const b = 3 * topology.edgeVertices[2 * e + 1]!;
        const length = Math.hypot(world[a]! - world[b]!, world[a + 1]! - world[b + 1]!, world[a + 2]! - world[b + 2]!);
        if (getBit(layout!.cut, e)) sums.cutLength += length;
        if (sides === 1) sums.borderLength += length;
        else if (sides > 1) sums.seamLength += length;
      }
    }
  }
  return {
    count: shell.length,
    p: Float64Array.from(p),
    q: Float64Array.from(q),
    shell: Uint32Array.from(shell),
    shells,
    outline: Float64Array.from(outline),
    outlineShell: Uint32Array.from(outlineShell),
    ...sums,
  };
}
