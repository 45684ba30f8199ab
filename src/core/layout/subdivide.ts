import { cornerCount, type PolyMesh } from "../mesh/poly-mesh";
import { type BorderRule, quadPoints, smoothedPoints, subdividedMesh } from "../mesh/subdivide";
import { topologyOf } from "../mesh/topology";
import { refuseTiedShape } from "./assembly";
import type { PlacedShape, UvSetId } from "./asset";
import { getBit, makeBits, setBit } from "./bits";
import { type Layout, structureOf } from "./layout";

/** A layout brought onto the mesh that comes of its own by one step of smoothing. */
function subdividedLayout(mesh: PolyMesh, to: PolyMesh, layout: Layout, rule: BorderRule): Layout {
  const { cornerWedge, wedgeCount } = structureOf(mesh, layout);
  // The layout as a mesh of its own: where a seam runs, it has a border.
  const flat = { ...mesh, cornerVertex: cornerWedge, positions: new Float64Array(3 * wedgeCount) };
  const places = smoothedPoints({ mesh: flat, points: wedgeCount, values: layout.uv, dimensions: 2 }, rule);
  const quads = quadPoints(flat, wedgeCount);
  const [t, fine] = [topologyOf(mesh), topologyOf(to)];
  const cut = makeBits(fine.edgeCount);
  const mapped = makeBits(cornerCount(mesh));
  for (let f = 0; f + 1 < mesh.faceStart.length; f++) {
    const [from, end] = [mesh.faceStart[f]!, mesh.faceStart[f + 1]!];
    for (let c = from; c < end; c++) {
      const before = c === from ? end - 1 : c - 1;
      if (getBit(layout.mapped, f)) setBit(mapped, c);
      // Both halves of a seam are seams.
      if (getBit(layout.cut, t.cornerEdge[c]!)) setBit(cut, fine.cornerEdge[4 * c]!);
      if (getBit(layout.cut, t.cornerEdge[before]!)) setBit(cut, fine.cornerEdge[4 * c + 3]!);
    }
  }
  const s = structureOf(to, { cut, mapped });
  const uv = new Float64Array(2 * s.wedgeCount);
  for (let c = 0; c < quads.length; c++) {
    if (!getBit(mapped, c >> 2)) continue;
    uv.set(places.subarray(2 * quads[c]!, 2 * quads[c]! + 2), 2 * s.cornerWedge[c]!);
  }
  return { cut, mapped, uv, pinned: makeBits(s.wedgeCount) };
}

/**
 * A shape smoothed by some steps, with its layouts.
 *
 * @param rule what becomes of the borders of shells
 * @returns the shape, and of what face each of its faces comes
 * @throws UserError when its shape is tied to others
 */
export function subdividedShape(shape: PlacedShape, levels: number, rule: BorderRule) {
  refuseTiedShape(shape.name, shape);
  let [now, fromFace] = [shape, null as Uint32Array | null];
  for (let level = 0; level < levels; level++) {
    const { mesh } = now;
    const { cornerFace } = topologyOf(mesh);
    const fine = subdividedMesh(mesh);
    const bring = ([set, layout]: readonly [UvSetId, Layout]) =>
      [set, subdividedLayout(mesh, fine, layout, rule)] as const;
    fromFace = Uint32Array.from(cornerFace, (f) => fromFace?.[f] ?? f);
    now = { ...now, mesh: fine, layouts: new Map([...now.layouts].map(bring)) };
  }
  return { shape: now, fromFace: fromFace ?? new Uint32Array(0) };
}
