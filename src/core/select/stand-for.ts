import { getBit } from "../layout/bits";
import { facesOfShell, type Layout, shellName, shellNamed, structureOf } from "../layout/layout";
import { cornerPoints, pointNames } from "../layout/point-names";
import type { SelectionKind } from "../layout/selection-kind";
import type { Shell } from "../mesh/indices";
import { faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { ElementSet } from "./element-set";
import { elementCount } from "./grow";

/** The element of a kind at every corner, where kinds go by corners. */
function atCorners(mesh: PolyMesh, layout: Layout, kind: "vertices" | "points" | "edges"): Uint32Array {
  if (kind === "points") return cornerPoints(structureOf(mesh, layout));
  return kind === "edges" ? topologyOf(mesh).cornerEdge : mesh.cornerVertex;
}

/** Elements of a kind that faces stand for: themselves, their shells, their edges or vertices, UV points as far as there are. */
export function elementsOfFaces(mesh: PolyMesh, layout: Layout, faces: ElementSet, kind: SelectionKind): ElementSet {
  if (kind === "faces") return faces;
  const flags = new Uint8Array(elementCount(mesh, kind));
  if (kind === "shells") {
    const s = structureOf(mesh, layout);
    const seen = new Uint8Array(s.shellCount);
    faces.each((f) => {
      seen[s.faceShell[f]!] = 1;
    });
    for (let k = 0 as Shell; k < s.shellCount; k++) if (seen[k]) flags[shellName(s, k)] = 1;
    return ElementSet.flagged(flags);
  }
  const of = atCorners(mesh, layout, kind);
  faces.each((f) => {
    if (kind === "points" && !getBit(layout.mapped, f)) return;
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) flags[of[c]!] = 1;
  });
  return ElementSet.flagged(flags);
}

/** Elements of a kind that one face stands for, without looking at any other. */
export function elementsOfFace(mesh: PolyMesh, layout: Layout, face: number, kind: SelectionKind): number[] {
  if (kind === "faces") return [face];
  if (kind === "shells") {
    const s = structureOf(mesh, layout);
    return [shellName(s, s.faceShell[face]!)];
  }
  const [from, to] = [mesh.faceStart[face]!, mesh.faceStart[face + 1]!];
  if (kind === "points") {
    if (!getBit(layout.mapped, face)) return [];
    const s = structureOf(mesh, layout);
    return Array.from(s.cornerWedge.subarray(from, to), (w) => pointNames(s)[w]!);
  }
  return Array.from(atCorners(mesh, layout, kind).subarray(from, to));
}

/** Faces that elements touch: of shells all of theirs, of edges and vertices those they are part of. */
export function facesOfElements(mesh: PolyMesh, layout: Layout, items: ElementSet, kind: SelectionKind): ElementSet {
  if (kind === "faces") return items;
  const flags = new Uint8Array(faceCount(mesh));
  const t = topologyOf(mesh);
  if (kind === "shells") {
    const s = structureOf(mesh, layout);
    items.each((name) => {
      const shell = shellNamed(s, name);
      if (shell !== null) for (const f of facesOfShell(s, shell)) flags[f] = 1;
    });
  } else if (kind === "edges") {
    items.each((e) => {
      for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++)
        flags[t.cornerFace[t.edgeCorners[k]!]!] = 1;
    });
  } else {
    const of = atCorners(mesh, layout, kind);
    for (let c = 0; c < of.length; c++) if (items.has(of[c]!)) flags[t.cornerFace[c]!] = 1;
  }
  return ElementSet.flagged(flags);
}

/** Everything of a kind that faces can stand for. */
export function allElements(mesh: PolyMesh, layout: Layout, kind: SelectionKind): ElementSet {
  if (kind === "edges") return ElementSet.all(topologyOf(mesh).edgeCount);
  return elementsOfFaces(mesh, layout, ElementSet.all(faceCount(mesh)), kind);
}
