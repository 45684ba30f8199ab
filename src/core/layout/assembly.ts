import { faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { subMesh } from "../mesh/sub-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { determinant, inverse, multiply, transformPoints } from "../mesh/transform";
import { type Asset, type Part, type PartId, withParts } from "./asset";
import { getBit, setBit } from "./bits";
import { type CarryFrom, carryLayouts } from "./carry";
import { UserError } from "./user-error";
import { edgeEnds, emptyLayout, type UvSet, withBits } from "./uv-set";

// Parts are split for the work and made whole again, merged and separated, by the record of what they were. Nothing is
// ever found again by distance, so no vertex can be caught that does not belong.

/** Corners counted from `start`, one after another. */
const run = (start: number, count: number): Int32Array => Int32Array.from({ length: count }, (_, i) => start + i);

const cornersOf = (p: Part): number => p.mesh.cornerVertex.length;

function layoutsFrom(sets: number, lay: (set: number) => UvSet | undefined): Array<UvSet | undefined> {
  return Array.from({ length: sets }, (_, i) => lay(i));
}

/** Several parts as one, in the space of the first; each keeps its faces in a run of the whole's. */
export function mergeParts(asset: Asset, parts: readonly Part[], name: string, id: PartId): Part {
  const base = parts[0]!;
  const back = inverse(base.transform);
  const meshes = parts.map((p) => {
    const move = multiply(back, p.transform);
    if (determinant(move) < 0)
      throw new UserError(`${p.name} is mirrored against ${base.name}: apply its transform before merging.`);
    const same = p.transform.every((x, i) => x === base.transform[i]);
    return { mesh: p.mesh, positions: same ? p.mesh.positions : transformPoints(move, p.mesh.positions) };
  });
  const mesh = joinMeshes(meshes);
  const uvSets = layoutsFrom(asset.sets.length, (set) => {
    if (!parts.some((p) => p.uvSets[set])) return undefined;
    let start = 0;
    return carryLayouts(
      mesh,
      parts.map((p): CarryFrom => {
        const corner = new Int32Array(mesh.cornerVertex.length).fill(-1);
        corner.set(run(0, cornersOf(p)), start);
        start += cornersOf(p);
        return { mesh: p.mesh, layout: p.uvSets[set] ?? emptyLayout(p.mesh), corner };
      }),
    );
  });
  return { id, name, path: base.path, transform: base.transform, mesh, merged: parts, uvSets };
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
export function separatePart(part: Part): Part[] {
  const { merged } = part;
  if (!merged) return [part];
  const moved = multiply(part.transform, inverse(merged[0]!.transform));
  const stands = part.transform.every((x, i) => x === merged[0]!.transform[i]);
  let start = 0;
  return merged.map((was): Part => {
    const corner = run(start, cornersOf(was));
    start += cornersOf(was);
    const uvSets = part.uvSets.map((set) => set && carryLayouts(was.mesh, [{ mesh: part.mesh, layout: set, corner }]));
    return { ...was, ...(stands ? {} : { transform: multiply(moved, was.transform) }), uvSets };
  });
}

/** Takes faces off a part as a piece of its own; both remember what they are pieces of. */
export function splitPart(part: Part, faces: Uint32Array, id: PartId, name: string): [Part, Part] {
  const taken = new Uint8Array(faceCount(part.mesh));
  for (const f of faces) taken[f] = 1;
  const all = Uint32Array.from(taken, (_, f) => f);
  return [
    {
      ...piece(
        part,
        all.filter((f) => !taken[f]),
      ),
      id: part.id,
    },
    {
      ...piece(
        part,
        all.filter((f) => taken[f]),
      ),
      id,
      name,
    },
  ];
}

function piece(part: Part, faces: Uint32Array): Part {
  const { mesh, corner } = subMesh(part.mesh, faces);
  const { merged: _, split, ...rest } = part;
  return {
    ...rest,
    mesh,
    split: split ? { whole: split.whole, faces: faces.map((f) => split.faces[f]!) } : { whole: part, faces },
    uvSets: part.uvSets.map((set) => set && carryLayouts(mesh, [{ mesh: part.mesh, layout: set, corner }])),
  };
}

/** The part that pieces came from, whole again with their layouts; null when a piece is missing or there twice. */
export function unitePieces(pieces: readonly Part[]): Part | null {
  const { whole } = pieces[0]!.split!;
  const owner = new Int32Array(faceCount(whole.mesh)).fill(-1);
  const sources = pieces.map((p, i) => {
    const corner = new Int32Array(cornersOf(whole)).fill(-1);
    p.split!.faces.forEach((f, own) => {
      if (owner[f] !== -1) owner[f] = -2;
      else owner[f] = i;
      const [from, to] = [whole.mesh.faceStart[f]!, whole.mesh.faceStart[f + 1]!];
      for (let k = 0; k < to - from; k++) corner[from + k] = p.mesh.faceStart[own]! + k;
    });
    return { part: p, corner };
  });
  if (owner.some((o) => o < 0)) return null;
  const uvSets = layoutsFrom(Math.max(...pieces.map((p) => p.uvSets.length)), (set) => {
    if (!pieces.some((p) => p.uvSets[set])) return undefined;
    const from = sources.map(
      ({ part, corner }): CarryFrom => ({
        mesh: part.mesh,
        layout: part.uvSets[set] ?? emptyLayout(part.mesh),
        corner,
      }),
    );
    return withSeamsBetween(whole, carryLayouts(whole.mesh, from), owner, set);
  });
  return { ...whole, transform: pieces[0]!.transform, uvSets };
}

/** Adds the seams the whole had where its pieces were parted: a cut that separates nothing shows in no point. */
function withSeamsBetween(whole: Part, laid: UvSet, owner: Int32Array, set: number): UvSet {
  const before = whole.uvSets[set];
  if (!before) return laid;
  const t = topologyOf(whole.mesh);
  const cut = laid.cut.slice();
  for (let e = 0; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2 || !getBit(before.cut, e)) continue;
    const [a, , b] = edgeEnds(whole.mesh, t, e);
    if (owner[t.cornerFace[a]!] !== owner[t.cornerFace[b]!]) setBit(cut, e);
  }
  return withBits(whole.mesh, laid, cut);
}

/** The asset as it is handed on: merged parts separated, and split ones whole again where all their pieces are there. */
export function wholeParts(asset: Asset): Asset {
  if (!asset.parts.some((p) => p.merged || p.split)) return asset;
  const separated = asset.parts.flatMap(separatePart);
  const byWhole = new Map<PartId, Part[]>();
  for (const p of separated) if (p.split) byWhole.set(p.split.whole.id, [...(byWhole.get(p.split.whole.id) ?? []), p]);
  const out: Part[] = [];
  for (const p of separated) {
    const pieces = p.split && byWhole.get(p.split.whole.id)!;
    if (!pieces) {
      out.push(p);
      continue;
    }
    const united = unitePieces(pieces);
    if (!united) out.push(p);
    else if (pieces[0] === p) out.push(...separatePart(united));
  }
  return withParts(asset, out);
}

/** Whether a part's shape may be changed: pieces and merged parts must go back to what they were. */
export function refuseTiedShape(part: Part): void {
  if (part.merged) throw new UserError(`${part.name} is merged from other parts: separate it first.`);
  if (part.split) throw new UserError(`${part.name} is a piece of ${part.split.whole.name}: unite it first.`);
}
