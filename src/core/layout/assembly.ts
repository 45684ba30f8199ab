import type { Edge } from "../mesh/indices";
import { faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { subMesh } from "../mesh/sub-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { determinant, inverse, multiply, transformPoints } from "../mesh/transform";
import {
  type Asset,
  bareShape,
  type Part,
  type PartId,
  type Remembered,
  type Shape,
  type ShapeId,
  shapeOf,
  type UvSetId,
  withParts,
} from "./asset";
import { getBit, setBit } from "./bits";
import { type CarryFrom, carryLayouts } from "./carry";
import type { FreshId } from "./fresh-ids";
import { edgeEnds, emptyLayout, type Layout, withBits } from "./layout";
import { UserError } from "./user-error";

// Parts are split for the work and made whole again, merged and separated, by the record of what they were. Nothing is
// ever found again by distance, so no vertex can be caught that does not belong.

/** Corners counted from `start`, one after another. */
const cornerRun = (start: number, count: number): Int32Array => Int32Array.from({ length: count }, (_, i) => start + i);

const cornersOf = (s: Shape): number => s.mesh.cornerVertex.length;

/** A layout for every set that any of some shapes has one in. */
function layoutsFrom(from: readonly Shape[], lay: (set: UvSetId) => Layout): Map<UvSetId, Layout> {
  return new Map([...new Set(from.flatMap((s) => [...s.layouts.keys()]))].map((set) => [set, lay(set)]));
}

const mapLayouts = (shape: Shape, change: (layout: Layout) => Layout): Map<UvSetId, Layout> =>
  new Map([...shape.layouts].map(([set, layout]) => [set, change(layout)]));

/** A part as it is, for another shape to remember. */
export const remembered = (asset: Asset, part: Part): Remembered => ({ part, shape: bareShape(shapeOf(asset, part)) });

/** Several parts as one, in the space of the first; each keeps its faces in a run of the whole's. */
export function mergeParts(parts: readonly Remembered[], name: string, freshId: FreshId): Remembered {
  const base = parts[0]!.part;
  const back = inverse(base.transform);
  const meshes = parts.map(({ part, shape: { mesh } }) => {
    const move = multiply(back, part.transform);
    if (determinant(move) < 0)
      throw new UserError(`${part.name} is mirrored against ${base.name}: apply its transform before merging.`);
    const same = part.transform.every((x, i) => x === base.transform[i]);
    return { mesh, positions: same ? mesh.positions : transformPoints(move, mesh.positions) };
  });
  const mesh = joinMeshes(meshes);
  const shapes = parts.map((p) => p.shape);
  const layouts = layoutsFrom(shapes, (set) => {
    let start = 0;
    return carryLayouts(
      mesh,
      shapes.map((s): CarryFrom => {
        const corner = new Int32Array(mesh.cornerVertex.length).fill(-1);
        corner.set(cornerRun(0, cornersOf(s)), start);
        start += cornersOf(s);
        return { mesh: s.mesh, layout: s.layouts.get(set) ?? emptyLayout(s.mesh), corner };
      }),
    );
  });
  const shape: Shape = { id: freshId("m"), mesh, merged: parts, layouts };
  return { part: { id: freshId("p"), shape: shape.id, name, path: base.path, transform: base.transform }, shape };
}

function joinMeshes(list: ReadonlyArray<{ mesh: PolyMesh; positions: Float64Array }>): PolyMesh {
  const concat = <T extends Uint32Array | Float64Array | Float32Array>(arrays: readonly T[]): T => {
    const out = new (arrays[0]!.constructor as new (n: number) => T)(arrays.reduce((n, a) => n + a.length, 0));
    let at = 0;
    for (const a of arrays) {
      out.set(a, at);
      at += a.length;
    }
    return out;
  };
  let [vertices, corners] = [0, 0];
  const groups: string[] = [];
  const cornerVertex: Uint32Array[] = [];
  const ends: Uint32Array[] = [Uint32Array.of(0)];
  const faceGroup: Uint32Array[] = [];
  for (const { mesh, positions } of list) {
    cornerVertex.push(mesh.cornerVertex.map((v) => v + vertices));
    ends.push(mesh.faceStart.subarray(1).map((c) => c + corners));
    faceGroup.push(mesh.faceGroup.map((g) => (g < mesh.groups.length ? g + groups.length : g)));
    groups.push(...mesh.groups);
    vertices += positions.length / 3;
    corners += mesh.cornerVertex.length;
  }
  const normals = list.every(({ mesh }) => mesh.cornerNormal);
  return {
    positions: concat(list.map((l) => l.positions)),
    faceStart: concat(ends),
    cornerVertex: concat(cornerVertex),
    faceMaterial: concat(list.map((l) => l.mesh.faceMaterial)),
    faceGroup: concat(faceGroup),
    groups,
    ...(normals ? { cornerNormal: concat(list.map((l) => l.mesh.cornerNormal!)) } : {}),
    origin: {
      vertex: concat(list.map((l) => l.mesh.origin.vertex)),
      face: concat(list.map((l) => l.mesh.origin.face)),
    },
  };
}

/** The parts a merged one was made of, under their own names, with the layout as it is now. */
export function separatePart({ part, shape }: Remembered): Remembered[] {
  const { merged } = shape;
  if (!merged) return [{ part, shape }];
  const first = merged[0]!.part.transform;
  const moved = multiply(part.transform, inverse(first));
  const stands = part.transform.every((x, i) => x === first[i]);
  let start = 0;
  return merged.map((was): Remembered => {
    const corner = cornerRun(start, cornersOf(was.shape));
    start += cornersOf(was.shape);
    const layouts = mapLayouts(shape, (layout) => carryLayouts(was.shape.mesh, [{ mesh: shape.mesh, layout, corner }]));
    return {
      part: { ...was.part, ...(stands ? {} : { transform: multiply(moved, was.part.transform) }) },
      shape: { ...was.shape, layouts },
    };
  });
}

/** Takes faces off a part as a piece of its own; both remember what they are pieces of. */
export function splitPart(
  whole: Remembered,
  faces: Uint32Array,
  name: string,
  freshId: FreshId,
): [Remembered, Remembered] {
  const taken = new Uint8Array(faceCount(whole.shape.mesh));
  for (const f of faces) taken[f] = 1;
  const all = Uint32Array.from(taken, (_, f) => f);
  const rest = piece(
    whole,
    all.filter((f) => !taken[f]),
    freshId("m"),
  );
  const off = piece(
    whole,
    all.filter((f) => taken[f]),
    freshId("m"),
  );
  return [
    { part: { ...whole.part, shape: rest.id }, shape: rest },
    { part: { ...whole.part, shape: off.id, id: freshId("p"), name }, shape: off },
  ];
}

function piece({ part, shape }: Remembered, faces: Uint32Array, id: ShapeId): Shape {
  const { mesh, corner } = subMesh(shape.mesh, faces);
  const { split } = shape;
  return {
    id,
    mesh,
    split: split
      ? { whole: split.whole, faces: faces.map((f) => split.faces[f]!) }
      : { whole: { part, shape: bareShape(shape) }, faces },
    layouts: mapLayouts(shape, (layout) => carryLayouts(mesh, [{ mesh: shape.mesh, layout, corner }])),
  };
}

/** The part that pieces came from, whole again with their layouts; null when a piece is missing or there twice. */
export function unitePieces(pieces: readonly Remembered[]): Remembered | null {
  const { whole } = pieces[0]!.shape.split!;
  const { mesh } = whole.shape;
  const owner = new Int32Array(faceCount(mesh)).fill(-1);
  const sources = pieces.map(({ shape }, i) => {
    const corner = new Int32Array(cornersOf(whole.shape)).fill(-1);
    shape.split!.faces.forEach((f, own) => {
      if (owner[f] !== -1) owner[f] = -2;
      else owner[f] = i;
      const [from, to] = [mesh.faceStart[f]!, mesh.faceStart[f + 1]!];
      for (let k = 0; k < to - from; k++) corner[from + k] = shape.mesh.faceStart[own]! + k;
    });
    return { shape, corner };
  });
  if (owner.some((o) => o < 0)) return null;
  const layouts = layoutsFrom(
    pieces.map((p) => p.shape),
    (set) => {
      const from = sources.map(
        ({ shape, corner }): CarryFrom => ({
          mesh: shape.mesh,
          layout: shape.layouts.get(set) ?? emptyLayout(shape.mesh),
          corner,
        }),
      );
      return withSeamsBetween(whole.shape, carryLayouts(mesh, from), owner, set);
    },
  );
  return { part: { ...whole.part, transform: pieces[0]!.part.transform }, shape: { ...whole.shape, layouts } };
}

/** Adds the seams the whole had where its pieces were parted: a cut that separates nothing shows in no point. */
function withSeamsBetween(whole: Shape, unfolded: Layout, owner: Int32Array, set: UvSetId): Layout {
  const before = whole.layouts.get(set);
  if (!before) return unfolded;
  const t = topologyOf(whole.mesh);
  const cut = unfolded.cut.slice();
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2 || !getBit(before.cut, e)) continue;
    const [a, , b] = edgeEnds(whole.mesh, t, e);
    if (owner[t.cornerFace[a]!] !== owner[t.cornerFace[b]!]) setBit(cut, e);
  }
  return withBits(whole.mesh, unfolded, cut);
}

/** The asset with some parts in the place of others. */
export function withRemembered(asset: Asset, parts: readonly Remembered[]): Asset {
  return withParts(
    asset,
    parts.map((p) => p.part),
    new Map<ShapeId, Shape>(parts.map((p) => [p.shape.id, p.shape])).values(),
  );
}

/** The asset as it is handed on: merged parts separated, and split ones whole again where all their pieces are there. */
export function wholeParts(asset: Asset): Asset {
  const parts = asset.parts.map((p) => remembered(asset, p));
  if (!parts.some(({ shape }) => shape.merged || shape.split)) return asset;
  const separated = parts.flatMap(separatePart);
  const byWhole = new Map<PartId, Remembered[]>();
  for (const p of separated) {
    const id = p.shape.split?.whole.part.id;
    if (id !== undefined) byWhole.set(id, [...(byWhole.get(id) ?? []), p]);
  }
  const out: Remembered[] = [];
  for (const p of separated) {
    const pieces = p.shape.split && byWhole.get(p.shape.split.whole.part.id)!;
    if (!pieces) {
      out.push(p);
      continue;
    }
    const united = unitePieces(pieces);
    if (!united) out.push(p);
    else if (pieces[0] === p) out.push(...separatePart(united));
  }
  return withRemembered(asset, out);
}

/** Refuses to change a shape that must go back to what it was. @throws UserError naming the part */
export function refuseTiedShape(name: string, shape: Shape): void {
  if (shape.merged) throw new UserError(`${name} is merged from other parts: separate it first.`);
  if (shape.split) throw new UserError(`${name} is a piece of ${shape.split.whole.part.name}: unite it first.`);
}
