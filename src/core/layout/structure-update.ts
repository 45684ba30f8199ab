import type { PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { rootOf, unite } from "../numeric/union-find";
import type { Bits } from "./bits";
import { getBit } from "./bits";
import { edgeEndsInto, facesOfShell, isBarrier, type Layout, type Structure } from "./structure";

/** A structure after some more edges were cut, and the wedge that each of its wedges was, or was split off. */
export interface Updated {
  readonly structure: Structure;
  readonly from: Uint32Array;
}

const NOT_YET = 0xffffffff;
/** Above this share of all faces in touched shells, deriving everything is as quick. */
const TOO_MANY = 0.5;

/**
 * The structure after cutting: only the shells that the new cuts lie in are flooded again; the rest is numbered anew in
 * one pass, since wedges and shells are numbered by their first corners and faces.
 *
 * @param old structure of the mesh under `layout`
 * @param cut all bits of `layout.cut`, and more
 * @returns null when bits were cleared, or so much was touched that deriving all is as quick
 */
export function structureAfterCuts(
  mesh: PolyMesh,
  old: Structure,
  layout: Pick<Layout, "cut" | "mapped">,
  cut: Bits,
): Updated | null {
  const t = topologyOf(mesh);
  const touched = new Set<number>();
  for (let i = 0; i < cut.length; i++) {
    const [was, is] = [layout.cut[i]!, cut[i]!];
    if (was === is) continue;
    if (was & ~is) return null;
    for (let e = 8 * i; e < Math.min(8 * i + 8, t.edgeCount); e++)
      if (getBit(cut, e) && !isBarrier(t, layout, e))
        touched.add(old.faceShell[t.cornerFace[t.edgeCorners[t.edgeCornerStart[e]!]!]!]!);
  }
  let faces = 0;
  for (const shell of touched) faces += facesOfShell(old, shell).length;
  if (faces > TOO_MANY * old.faceShell.length && faces > 10_000) return null;
  const flood = floodShells(mesh, old, { cut, mapped: layout.mapped }, touched);
  return numberAll(mesh, old, touched, flood);
}

interface Flood {
  /** Root corner of every corner, and root face of every face, of the touched shells; others are not written. */
  readonly cornerRoot: Uint32Array;
  readonly faceRoot: Uint32Array;
}

function floodShells(
  mesh: PolyMesh,
  old: Structure,
  bits: Pick<Layout, "cut" | "mapped">,
  touched: ReadonlySet<number>,
): Flood {
  const t = topologyOf(mesh);
  const cornerRoot = new Uint32Array(mesh.cornerVertex.length);
  const faceRoot = new Uint32Array(old.faceShell.length);
  const ends = new Uint32Array(4);
  for (const shell of touched)
    for (const f of facesOfShell(old, shell)) {
      faceRoot[f] = f;
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) cornerRoot[c] = c;
    }
  for (const shell of touched)
    for (const f of facesOfShell(old, shell))
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
        const e = t.cornerEdge[c]!;
        if (t.edgeCorners[t.edgeCornerStart[e]!] !== c || isBarrier(t, bits, e)) continue;
        edgeEndsInto(mesh, t, e, ends);
        unite(cornerRoot, ends[0]!, ends[2]!);
        unite(cornerRoot, ends[1]!, ends[3]!);
        unite(faceRoot, t.cornerFace[ends[0]!]!, t.cornerFace[ends[2]!]!);
      }
  return { cornerRoot, faceRoot };
}

function numberAll(
  mesh: PolyMesh,
  old: Structure,
  touched: ReadonlySet<number>,
  { cornerRoot, faceRoot }: Flood,
): Updated {
  const { cornerFace } = topologyOf(mesh);
  const isTouched = new Uint8Array(old.shellCount);
  for (const shell of touched) isTouched[shell] = 1;
  const cornerWedge = new Uint32Array(cornerRoot.length);
  const wedgeOfOld = new Uint32Array(old.wedgeCount).fill(NOT_YET);
  // Cutting adds at most one wedge at either end of an edge for every cut; there is room for all.
  const from = new Uint32Array(old.wedgeCount + cornersOf(mesh, old, touched));
  let wedges = 0;
  for (let c = 0; c < cornerWedge.length; c++) {
    const was = old.cornerWedge[c]!;
    if (isTouched[old.faceShell[cornerFace[c]!]!]) {
      const root = rootOf(cornerRoot, c);
      if (root === c) {
        from[wedges] = was;
        cornerWedge[c] = wedges++;
      } else cornerWedge[c] = cornerWedge[root]!;
    } else {
      if (wedgeOfOld[was] === NOT_YET) {
        from[wedges] = was;
        wedgeOfOld[was] = wedges++;
      }
      cornerWedge[c] = wedgeOfOld[was]!;
    }
  }
  const faceShell = new Uint32Array(old.faceShell.length);
  const shellOfOld = new Uint32Array(old.shellCount).fill(NOT_YET);
  let shells = 0;
  for (let f = 0; f < faceShell.length; f++) {
    const was = old.faceShell[f]!;
    if (isTouched[was]) {
      const root = rootOf(faceRoot, f);
      faceShell[f] = root === f ? shells++ : faceShell[root]!;
    } else {
      if (shellOfOld[was] === NOT_YET) shellOfOld[was] = shells++;
      faceShell[f] = shellOfOld[was]!;
    }
  }
  const kept = from.slice(0, wedges);
  const wedgeVertex = new Uint32Array(wedges);
  for (let w = 0; w < wedges; w++) wedgeVertex[w] = old.wedgeVertex[kept[w]!]!;
  return { structure: { wedgeCount: wedges, cornerWedge, wedgeVertex, ...listFaces(faceShell, shells) }, from: kept };
}

function cornersOf(mesh: PolyMesh, old: Structure, touched: ReadonlySet<number>): number {
  let count = 0;
  for (const shell of touched)
    for (const f of facesOfShell(old, shell)) count += mesh.faceStart[f + 1]! - mesh.faceStart[f]!;
  return count;
}

/** Faces by shell, ascending. */
export function listFaces(faceShell: Uint32Array, shellCount: number) {
  const shellStart = new Uint32Array(shellCount + 1);
  for (let f = 0; f < faceShell.length; f++) shellStart[faceShell[f]! + 1]!++;
  for (let s = 0; s < shellCount; s++) shellStart[s + 1]! += shellStart[s]!;
  const fill = shellStart.slice(0, -1);
  const shellFaces = new Uint32Array(faceShell.length);
  for (let f = 0; f < faceShell.length; f++) shellFaces[fill[faceShell[f]!]!++] = f;
  return { shellCount, faceShell, shellStart, shellFaces };
}
