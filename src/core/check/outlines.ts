import type { PlacedShape, UvSetId } from "../layout/asset";
import { isBarrier, type Layout, type Structure, structureOf } from "../layout/layout";
import type { PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { trianglesOf } from "../mesh/triangulate";
import { type Figures, layoutIn } from "./figures";

/** Mapped triangles of some shapes in UV. */
export interface UvTriangles {
  /** 6 per triangle. */
  readonly points: Float64Array;
  /** Number of its shell among the mapped ones, in the order of the figures. */
  readonly shell: Uint32Array;
}

export function trianglesInUv(shapes: readonly PlacedShape[], set: UvSetId, figures: Figures): UvTriangles {
  let count = 0;
  for (const f of figures.values()) for (let k = 0; k < f.count; k++) if (f.mapped[k]) count += f.triangles[k]!;
  const points = new Float64Array(6 * count);
  const shell = new Uint32Array(count);
  let [at, first] = [0, 0];
  for (const shape of shapes) {
    const f = figures.get(shape.id)!;
    const { uv, s } = inSet(shape, set);
    const number = numbers(f.mapped, first);
    const t = trianglesOf(shape.mesh);
    for (let k = 0; k < t.face.length; k++) {
      const own = number[s.faceShell[t.face[k]!]!]!;
      if (own < 0) continue;
      for (let c = 0; c < 3; c++) {
        const w = 2 * s.cornerWedge[t.corners[3 * k + c]!]!;
        points[6 * at + 2 * c] = uv[w]!;
        points[6 * at + 2 * c + 1] = uv[w + 1]!;
      }
      shell[at++] = own;
    }
    for (let k = 0; k < f.count; k++) first += f.mapped[k]!;
  }
  return { points, shell };
}

const inSet = (shape: PlacedShape, set: UvSetId) => {
  const layout = layoutIn(shape, set);
  return { layout, uv: layout.uv, s: structureOf(shape.mesh, layout) };
};

/** Numbers of mapped shells, counted on from `first`; -1 for those without coordinates. */
function numbers(mapped: Uint8Array, first: number): Int32Array {
  let next = first;
  return Int32Array.from(mapped, (m) => (m ? next++ : -1));
}

/** Border edges of shells. */
export interface Outlines {
  /** 4 per border edge. */
  readonly segments: Float64Array;
  readonly shell: Uint32Array;
}

/** @param skip shells to leave out, by number among the mapped ones */
export function outlinesOf(
  shapes: readonly PlacedShape[],
  set: UvSetId,
  figures: Figures,
  skip?: Uint8Array,
): Outlines {
  const parts: Array<{ segments: Float64Array; shell: Uint32Array }> = [];
  let first = 0;
  for (const shape of shapes) {
    const f = figures.get(shape.id)!;
    const { layout, s } = inSet(shape, set);
    const number = numbers(f.mapped, first);
    if (skip) for (let k = 0; k < number.length; k++) if (number[k]! >= 0 && skip[number[k]!]) number[k] = -1;
    parts.push(outlineOfShape(shape.mesh, layout, s, number));
    for (let k = 0; k < f.count; k++) first += f.mapped[k]!;
  }
  const count = parts.reduce((n, p) => n + p.shell.length, 0);
  const out = { segments: new Float64Array(4 * count), shell: new Uint32Array(count) };
  let at = 0;
  for (const p of parts) {
    out.segments.set(p.segments, 4 * at);
    out.shell.set(p.shell, at);
    at += p.shell.length;
  }
  return out;
}

function outlineOfShape(mesh: PolyMesh, layout: Layout, s: Structure, number: Int32Array): Outlines {
  const t = topologyOf(mesh);
  const { uv } = layout;
  let count = 0;
  const visit = (act: (corner: number, shell: number) => void) => {
    for (let e = 0; e < t.edgeCount; e++) {
      if (!isBarrier(t, layout, e)) continue;
      for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++) {
        const c = t.edgeCorners[k]!;
        const shell = number[s.faceShell[t.cornerFace[c]!]!]!;
        if (shell >= 0) act(c, shell);
      }
    }
  };
  visit(() => count++);
  const segments = new Float64Array(4 * count);
  const shell = new Uint32Array(count);
  let at = 0;
  visit((c, own) => {
    const [a, b] = [2 * s.cornerWedge[c]!, 2 * s.cornerWedge[t.cornerNext[c]!]!];
    segments[4 * at] = uv[a]!;
    segments[4 * at + 1] = uv[a + 1]!;
    segments[4 * at + 2] = uv[b]!;
    segments[4 * at + 3] = uv[b + 1]!;
    shell[at++] = own;
  });
  return { segments, shell };
}
