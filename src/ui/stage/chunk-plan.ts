import { type Asset, shapesOf, type UvSetId } from "@/core/layout/asset";
import { structureOf } from "@/core/layout/layout";
import { faceCount, type PolyMesh } from "@/core/mesh/poly-mesh";
import { trianglesOf } from "@/core/mesh/triangulate";
import { layoutOf } from "@/core/operations/scope";
import type { DrawnPart, DrawnShape } from "./drawn-shape";

/** Corners, of all parts of a shape, from which on it has a chunk to itself. */
const LARGE = 30_000;
/** Corners of a shared chunk. */
const FULL = 60_000;

/** Shapes that are drawn together, and what tells whether a chunk that was made for others still serves. */
export interface PlannedChunk {
  readonly key: string;
  readonly shapes: readonly DrawnShape[];
}

const numbers = new WeakMap<PolyMesh, number>();
let count = 0;
function numberOf(mesh: PolyMesh): number {
  const known = numbers.get(mesh);
  if (known !== undefined) return known;
  numbers.set(mesh, ++count);
  return count;
}

/** All parts of an asset by shape, as they are drawn. */
export function drawnShapes(asset: Asset, set: UvSetId): DrawnShape[] {
  const parts = new Map<string, DrawnPart[]>();
  let firstFace = 0;
  for (const { id, shape, transform } of asset.parts) {
    const list = parts.get(shape) ?? [];
    parts.set(shape, list);
    list.push({ id, transform, firstFace });
    firstFace += faceCount(asset.shapes.get(shape)!.mesh);
  }
  return shapesOf(asset).map((shape, order) => {
    const { id, mesh } = shape;
    const own = parts.get(id)!;
    const corners = trianglesOf(mesh).corners.length;
    const base = { id, mesh, order, parts: own };
    // In a shared chunk there is no room to be made later: every corner may come to have a wedge of its own.
    if (corners * own.length < LARGE) return { ...base, wedges: mesh.cornerVertex.length, shells: faceCount(mesh) };
    const s = structureOf(mesh, layoutOf(shape, set));
    return { ...base, wedges: s.wedgeCount, shells: s.shellCount };
  });
}

/** Which shapes are drawn together: large ones alone, small ones in the order of the list until a chunk is full. */
export function planChunks(shapes: readonly DrawnShape[]): PlannedChunk[] {
  const out: PlannedChunk[] = [];
  let [shared, corners]: [DrawnShape[], number] = [[], 0];
  const close = () => {
    if (shared.length) out.push({ key: keyOf(shared), shapes: shared });
    [shared, corners] = [[], 0];
  };
  for (const shape of shapes) {
    const own = trianglesOf(shape.mesh).corners.length * shape.parts.length;
    if (own >= LARGE) {
      out.push({ key: keyOf([shape]), shapes: [shape] });
      continue;
    }
    if (corners + own > FULL) close();
    shared.push(shape);
    corners += own;
  }
  close();
  return out;
}

const keyOf = (shapes: readonly DrawnShape[]): string =>
  shapes.map(({ id, mesh, order, parts }) => [id, numberOf(mesh), order, ...parts.map((p) => p.id)].join()).join(";");
