import { cornerCount, type PolyMesh, vertexCount } from "../mesh/poly-mesh";
import { type BorderRule, type Refined, refined, type Scheme, smoothedPoints, subdividedMesh } from "../mesh/subdivide";
import { topologyOf } from "../mesh/topology";
import { refuseTiedShape } from "./assembly";
import type { PlacedShape, UvSetId } from "./asset";
import { getBit, makeBits, setBit } from "./bits";
import { type Layout, structureOf } from "./layout";
import { UserError } from "./user-error";

/** A layout brought onto the mesh that comes of its own by one step of smoothing. */
function subdividedLayout(
  mesh: PolyMesh,
  to: PolyMesh,
  own: Refined,
  layout: Layout,
  { rule, scheme }: Smooth,
): Layout {
  const { cornerWedge, wedgeCount } = structureOf(mesh, layout);
  // The layout as a mesh of its own: where a seam runs, it has a border.
  const flat = { ...mesh, cornerVertex: cornerWedge, positions: new Float64Array(3 * wedgeCount) };
  const values = { mesh: flat, points: wedgeCount, values: layout.uv, dimensions: 2 } as const;
  const places = smoothedPoints(values, rule, scheme);
  const { points } = refined(flat, wedgeCount, scheme);
  const [t, fine] = [topologyOf(mesh), topologyOf(to)];
  const cut = makeBits(fine.edgeCount);
  const mapped = makeBits(own.face.length);
  own.face.forEach((f, n) => {
    if (getBit(layout.mapped, f)) setBit(mapped, n);
  });
  for (let f = 0; f + 1 < mesh.faceStart.length; f++) {
    const [from, end] = [mesh.faceStart[f]!, mesh.faceStart[f + 1]!];
    for (let c = from; c < end; c++) {
      const before = c === from ? end - 1 : c - 1;
      // Both halves of a seam are seams.
      if (getBit(layout.cut, t.cornerEdge[c]!)) setBit(cut, fine.cornerEdge[own.halves[2 * c]!]!);
      if (getBit(layout.cut, t.cornerEdge[before]!)) setBit(cut, fine.cornerEdge[own.halves[2 * c + 1]!]!);
    }
  }
  const s = structureOf(to, { cut, mapped });
  const uv = new Float64Array(2 * s.wedgeCount);
  for (let c = 0; c < points.length; c++) {
    if (!getBit(mapped, Math.floor(c / own.size))) continue;
    uv.set(places.subarray(2 * points[c]!, 2 * points[c]! + 2), 2 * s.cornerWedge[c]!);
  }
  return { cut, mapped, uv, pinned: makeBits(s.wedgeCount) };
}

/** How forms are smoothed: by how many steps, what becomes of the borders of shells, and by whose rule. */
export interface Smooth {
  readonly levels: number;
  readonly rule: BorderRule;
  readonly scheme: Scheme;
}

/** Faces that smoothing makes, at the most. */
const MOST_FACES = 4_000_000;

/** @throws UserError where smoothing shapes would make more faces than can be worked with */
export function refuseTooMany(shapes: ReadonlyArray<Pick<PlacedShape, "mesh">>, levels: number): void {
  const faces = shapes.reduce((sum, { mesh }) => sum + cornerCount(mesh), 0) * 4 ** (levels - 1);
  if (faces > MOST_FACES)
    throw new UserError(
      `That would make ${Math.ceil(faces / 1e6)} million faces; ${MOST_FACES / 1e6} are the most: smooth fewer parts, or by fewer levels.`,
    );
}

/** @throws UserError where a mesh cannot be smoothed by a scheme, naming the part */
function refuseOtherThanTriangles(name: string, { faceStart }: PolyMesh, scheme: Scheme): void {
  if (scheme !== "loop") return;
  for (let f = 0; f + 1 < faceStart.length; f++)
    if (faceStart[f + 1]! - faceStart[f]! !== 3)
      throw new UserError(
        `${name} has faces that are no triangles, which Loop's scheme does not take: choose Catmull-Clark.`,
      );
}

/**
 * A shape smoothed by some steps, with its layouts.
 *
 * @returns the shape, and of what face each of its faces comes
 * @throws UserError when its shape is tied to others, or cannot be smoothed by that scheme
 */
export function subdividedShape(shape: PlacedShape, smooth: Smooth) {
  refuseTiedShape(shape.name, shape);
  refuseOtherThanTriangles(shape.name, shape.mesh, smooth.scheme);
  let [now, fromFace] = [shape, null as Uint32Array | null];
  for (let level = 0; level < smooth.levels; level++) {
    const { mesh } = now;
    const own = refined(mesh, vertexCount(mesh), smooth.scheme);
    const fine = subdividedMesh(mesh, smooth.scheme, own);
    const bring = ([set, layout]: readonly [UvSetId, Layout]) =>
      [set, subdividedLayout(mesh, fine, own, layout, smooth)] as const;
    fromFace = own.face.map((f) => fromFace?.[f] ?? f);
    now = { ...now, mesh: fine, layouts: new Map([...now.layouts].map(bring)) };
  }
  return { shape: now, fromFace: fromFace ?? new Uint32Array(0) };
}

/** Where the vertices of a mesh come to lie when it is smoothed by some steps: 3 each, in its own space. */
export function smoothedVertices(mesh: PolyMesh, levels: number): Float64Array {
  let now = mesh;
  // Old points come first, in their order.
  for (let level = 0; level < levels; level++) now = subdividedMesh(now, "catmull-clark");
  return now.positions.slice(0, mesh.positions.length);
}
